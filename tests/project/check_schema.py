"""The schemas and the tool agree: both take the good files, both refuse the wrong ones.

Usage: check_schema.py SOURCE_DIR ARVIK
"""
import json
import pathlib
import shutil
import subprocess
import sys
import tempfile

import jsonschema

# For each schema: how the tool reads such a file, the good files of the demo, good and wrong ones.
PACES = {
    "schema": "pace.schema.json",
    "arguments": lambda path, value: ["--pace", path + name_in(value)],
    "demo": ["*.pace.json", "*.paces.json"],
    "good": {
        "all values": {"arvik_pace": 1, "rate": "x1.5", "unit": "row", "characters": {"♪": "1s"},
                       "least": "1s", "most": "2s", "fit_pauses": "keep", "jitter": "100%",
                       "seed": 18446744073709551615, "abbreviations": ["a."], "fit": None},
        "based on": {"arvik_paces": 1, "paces": {"a": {"based_on": "b"}, "b": {"fit": "1.5s"}}},
    },
    "wrong": {
        "no version": {"rate": "30cps"},
        "unknown key": {"arvik_pace": 1, "rated": "30cps"},
        "number without unit": {"arvik_pace": 1, "rate": 30},
        "pause without unit": {"arvik_pace": 1, "sentence": "240"},
        "other version": {"arvik_pace": 2},
        "abbreviation without stop": {"arvik_pace": 1, "abbreviations": ["Adm"]},
        "not an object": ["arvik_pace"],
        "unknown unit": {"arvik_pace": 1, "unit": "letter"},
        "jitter beyond all": {"arvik_pace": 1, "jitter": "101%"},
        "negative seed": {"arvik_pace": 1, "seed": -1},
        "characters without time": {"arvik_pace": 1, "characters": {"♪": 3}},
        "based on in a single pace": {"arvik_pace": 1, "based_on": "a"},
        "several without paces": {"arvik_paces": 1},
        "unknown key of one of several": {"arvik_paces": 1, "paces": {"a": {"rated": "1cps"}}},
        "version inside": {"arvik_paces": 1, "paces": {"a": {"arvik_pace": 1}}},
    },
}
STYLES = {
    "schema": "styles.schema.json",
    "arguments": lambda path, value: ["--styles", path],
    "demo": ["*.styles.json"],
    "good": {"empty": {"arvik_styles": 1, "styles": {}},
             "all": {"arvik_styles": 1, "styles": {"x": ["b", "i", "u", "s", "color #112233",
                                                         "size 50%", "enter wipe", "enter cut 0s"]}}},
    "wrong": {
        "no version": {"styles": {}},
        "no styles": {"arvik_styles": 1},
        "not a list": {"arvik_styles": 1, "styles": {"x": "b"}},
        "unknown tag": {"arvik_styles": 1, "styles": {"x": ["bold"]}},
        "not about looks": {"arvik_styles": 1, "styles": {"x": ["rate x2"]}},
        "content": {"arvik_styles": 1, "styles": {"x": ["b: y"]}},
        "name with a blank": {"arvik_styles": 1, "styles": {"x y": ["b"]}},
        "unknown key": {"arvik_styles": 1, "styles": {}, "style": {}},
    },
}
SOUND = {"samples": ["a.wav"]}
SOUNDS = {
    "schema": "sounds.schema.json",
    "arguments": lambda path, value: ["--typing", path + sound_in(value), "-o", "/dev/null"],
    "command": ["mix", "a b"],
    "samples": ["a.wav"],
    "demo": ["*.sounds.json"],
    "good": {
        "least": {"arvik_sounds": 1, "sounds": {"a": SOUND}},
        "all": {"arvik_sounds": 1, "clips": {"c": "a.wav"}, "sounds": {"a": {
            "description": "x", "samples": ["a.wav", "a.wav"], "choose": "by_letter", "every": 2,
            "gap": "5ms", "pitch": ["-1st", "+1.5st"], "gain": "-3dB",
            "heard": ["letters", "digits", "symbols", "punctuation", "blanks"],
            "question_pitch": "3st", "statement_pitch": "-2st", "ending": "cut", "fade": "1s",
            "loop": False, "voices": 16, "under_voice": "silent", "pan": -1,
            "seed": 18446744073709551615}}},
    },
    "wrong": {
        "no version": {"sounds": {"a": SOUND}},
        "no sounds": {"arvik_sounds": 1},
        "no samples": {"arvik_sounds": 1, "sounds": {"a": {}}},
        "samples of none": {"arvik_sounds": 1, "sounds": {"a": {"samples": []}}},
        "unknown key": {"arvik_sounds": 1, "sounds": {"a": {**SOUND, "chose": "cycle"}}},
        "unknown choice": {"arvik_sounds": 1, "sounds": {"a": {**SOUND, "choose": "random"}}},
        "gap without unit": {"arvik_sounds": 1, "sounds": {"a": {**SOUND, "gap": 50}}},
        "pitch without unit": {"arvik_sounds": 1, "sounds": {"a": {**SOUND, "pitch": "2"}}},
        "three pitches": {"arvik_sounds": 1, "sounds": {"a": {**SOUND, "pitch": ["1st"] * 3}}},
        "every of none": {"arvik_sounds": 1, "sounds": {"a": {**SOUND, "every": 0}}},
        "heard unknown": {"arvik_sounds": 1, "sounds": {"a": {**SOUND, "heard": ["vowels"]}}},
        "pan beyond": {"arvik_sounds": 1, "sounds": {"a": {**SOUND, "pan": 2}}},
        "name with a blank": {"arvik_sounds": 1, "sounds": {"a b": SOUND}},
        "clip without file": {"arvik_sounds": 1, "clips": {"c": ""}, "sounds": {"a": SOUND}},
    },
}
SCRIPTS = {
    "schema": "script.schema.json",
    "command": ["play", "--log", "--auto", "--frame", "1s", "--value", "keeper=Pell"],
    "arguments": lambda path, value: [path],
    "demo": ["*.script.json"],
    "good": {
        "least": {"arvik_script": 1, "conversations": {"a": [{"text": "x"}]}},
        "without lines": {"arvik_script": 1, "conversations": {"a": []}},
        "a locale": {"arvik_script": 1, "paces": {"p": {}}, "locales": {"de": {"rate": "x1.5", "paces": {"p": {"based_on": "p"}}, "fonts": ["Serif"]}},
                     "voices": {"pattern": "{locale}/{key}.ogg", "files": {"de": {"a": "b.ogg"}}}, "conversations": {"a": []}},
    },
    "wrong": {
        "no version": {"conversations": {"a": []}},
        "unknown key": {"arvik_script": 1, "conversations": {"a": []}, "casts": {}},
        "unknown key of a line": {"arvik_script": 1, "conversations": {"a": [{"text": "", "txt": 1}]}},
        "line without text": {"arvik_script": 1, "conversations": {"a": [{}]}},
        "wrong type": {"arvik_script": 1, "conversations": {"a": [{"text": "x", "append": 1}]}},
        "wrong time": {"arvik_script": 1, "conversations": {"a": [{"text": "x", "auto": "soon"}]}},
        "wrong pace": {"arvik_script": 1, "paces": {"p": {"rat": "1cps"}}, "conversations": {"a": []}},
        "wrong style": {"arvik_script": 1, "styles": {"s": ["hold"]}, "conversations": {"a": []}},
        "wrong box": {"arvik_script": 1, "box": {"width": 0}, "conversations": {"a": []}},
        "wrong cast": {"arvik_script": 1, "cast": {"a": {"nme": "A"}}, "conversations": {"a": []}},
        "wrong sound": {"arvik_script": 1, "sounds": {"s": {}}, "conversations": {"a": []}},
        "wrong clip": {"arvik_script": 1, "clips": {"s": 1}, "conversations": {"a": []}},
        "tables that are none": {"arvik_script": 1, "strings": 5, "conversations": {"a": []}},
        "rate of a locale": {"arvik_script": 1, "locales": {"de": {"rate": "20cps"}}, "conversations": {"a": []}},
        "unknown key of a locale": {"arvik_script": 1, "locales": {"de": {"pace": {}}}, "conversations": {"a": []}},
        "voices without a locale": {"arvik_script": 1, "voices": {"pattern": "{key}.ogg"}, "conversations": {"a": []}},
        "list of conversations": {"arvik_script": 1, "conversations": [[]]},
    },
}


def sound_in(value):
    sounds = value.get("sounds") if isinstance(value, dict) else None
    return "#" + next(iter(sounds)) if sounds else ""


def name_in(value):
    paces = value.get("paces") if isinstance(value, dict) else None
    return "#" + next(iter(paces)) if paces else ""


def tool_accepts(arvik, kind, arguments):
    command = kind.get("command", ["schedule", "a. b"])
    run = subprocess.run([arvik, *command, *arguments], capture_output=True)
    assert run.returncode in (0, 1), run
    return run.returncode == 0


def check(kind, root, arvik, problems):
    schema = json.loads((root / "schemas" / kind["schema"]).read_text())
    jsonschema.Draft202012Validator.check_schema(schema)
    validator = jsonschema.Draft202012Validator(schema)
    files = [path for pattern in kind["demo"] for path in sorted(root.glob("demo/" + pattern))]
    if not files:
        problems.append(f"no demo file for {kind['schema']}")
    with tempfile.TemporaryDirectory() as folder:
        def both(name, value, path, wanted):
            if validator.is_valid(value) != wanted:
                problems.append(f"the schema {'refuses' if wanted else 'takes'}: {name}")
            if tool_accepts(arvik, kind, kind["arguments"](str(path), value)) != wanted:
                problems.append(f"the tool {'refuses' if wanted else 'takes'}: {name}")

        for path in files:
            both(path.name, json.loads(path.read_text()), path, True)
        path = pathlib.Path(folder) / "file.json"
        for name in kind.get("samples", []):
            shutil.copy(root / "demo/sounds/wood_1.wav", pathlib.Path(folder) / name)
        for wanted in (True, False):
            for name, value in kind["good" if wanted else "wrong"].items():
                path.write_text(json.dumps(value))
                both(name, value, path, wanted)
    return len(files) + len(kind["good"]) + len(kind["wrong"])


def main(root, arvik):
    problems = []
    count = sum(check(kind, root, arvik, problems) for kind in (PACES, STYLES, SOUNDS, SCRIPTS))
    print("\n".join(problems) or f"schemas and tool agree on {count} files")
    return 1 if problems else 0


sys.exit(main(pathlib.Path(sys.argv[1]), sys.argv[2]))
