"""The pace schema and the tool agree: both take the good files, both refuse the wrong ones.

Usage: check_schema.py SOURCE_DIR ARVIK
"""
import json
import pathlib
import subprocess
import sys
import tempfile

import jsonschema

WRONG = {
    "no version": {"rate": "30cps"},
    "unknown key": {"arvik_pace": 1, "rated": "30cps"},
    "number without unit": {"arvik_pace": 1, "rate": 30},
    "pause without unit": {"arvik_pace": 1, "sentence": "240"},
    "other version": {"arvik_pace": 2},
    "abbreviation without stop": {"arvik_pace": 1, "abbreviations": ["Adm"]},
    "not an object": ["arvik_pace"],
}


def tool_accepts(arvik, path):
    run = subprocess.run([arvik, "schedule", "--pace", path, "a. b"], capture_output=True)
    assert run.returncode in (0, 1), run
    return run.returncode == 0


def main(root, arvik):
    schema = json.loads((root / "schemas/pace.schema.json").read_text())
    jsonschema.Draft202012Validator.check_schema(schema)
    validator = jsonschema.Draft202012Validator(schema)
    problems = []
    good = sorted(root.glob("demo/*.pace.json"))
    for path in good:
        if not validator.is_valid(json.loads(path.read_text())) or not tool_accepts(arvik, path):
            problems.append(f"{path} is refused")
    with tempfile.TemporaryDirectory() as folder:
        for name, value in WRONG.items():
            path = pathlib.Path(folder) / "wrong.pace.json"
            path.write_text(json.dumps(value))
            if validator.is_valid(value):
                problems.append(f"the schema takes: {name}")
            if tool_accepts(arvik, path):
                problems.append(f"the tool takes: {name}")
    print("\n".join(problems) or f"{len(good)} good and {len(WRONG)} wrong files")
    return 1 if problems or not good else 0


sys.exit(main(pathlib.Path(sys.argv[1]), sys.argv[2]))
