"""Other programs read the reports of `arvik check`: JSON by its schema, JUnit's XML by junitparser.

Usage: check_reports.py SOURCE_DIR ARVIK. Needs python3-jsonschema and python3-junitparser (Debian).
"""
import json
import pathlib
import subprocess
import sys

import jsonschema
import junitparser


def report(arvik, *arguments):
    run = subprocess.run([arvik, "check", *arguments], capture_output=True, text=True)
    assert run.returncode in (0, 1), run
    return run.stdout


def check_json(arvik, validator, scripts):
    for script in scripts:
        value = json.loads(report(arvik, str(script), "--format", "json"))
        validator.validate(value)
        fault = script.suffixes == [".json"]
        assert bool(value["findings"]) == fault or script.name.startswith("tide"), (script.name, value)
        for finding in value["findings"]:
            text = (pathlib.Path(finding["file"])).read_bytes()
            assert 0 <= finding["begin"] <= finding["end"] <= len(text)
            rows = text[:finding["begin"]].decode().split("\n")
            assert (finding["row"], finding["column"]) == (len(rows), len(rows[-1]) + 1), finding


def check_junit(arvik, script):
    for strict, failures in ((["--warnings-as-errors"], 1), ([], 0)):
        suites = junitparser.JUnitXml.fromstring(report(arvik, str(script), "--format", "junit", *strict).encode())
        suites = list(suites)
        assert [suite.name for suite in suites] == ["en", "de", "the whole script"]
        cases = list(suites[1])
        assert [case.name for case in cases] == ["double-blank l"], cases
        assert suites[1].failures == failures
        assert [type(result).__name__ for result in cases[0].result] == ["Failure"] * failures


def main(root, arvik):
    schema = json.loads((root / "schemas/check.schema.json").read_text())
    jsonschema.Draft202012Validator.check_schema(schema)
    cases = sorted((root / "tests/check/cases").glob("*.json"))
    # Clips have made-up names there, so that no tool can read them.
    cases = [case for case in cases if "voice" not in case.name and "silent" not in case.name and
             "missing-" not in case.name and "small-text" not in case.name]
    texts = [case for case in cases if "wav" not in case.read_text()]
    check_json(arvik, jsonschema.Draft202012Validator(schema), [*texts, root / "demo/tide_clock.script.json"])
    check_junit(arvik, root / "tests/check/cases/double-blank.json")
    print(f"reports of {len(texts)} scripts are read")
    return 0


sys.exit(main(pathlib.Path(sys.argv[1]), sys.argv[2]))
