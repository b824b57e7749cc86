"""SSML of the tool: well-formed for a real XML parser, and spoken with the schedule's pauses.

What is spoken is skipped where espeak-ng is not installed. Usage: check_ssml.py SOURCE_DIR ARVIK
"""
import array
import itertools
import json
import pathlib
import shutil
import subprocess
import sys
import tempfile
import wave
import xml.etree.ElementTree as ET

NAMESPACE = "{http://www.w3.org/2001/10/synthesis}"

LINES = [
    "[pause 1500ms]Stop.[pause 2.25s] Go on… [mark door: now], and [rate x0.5: slow] & <fast>.",
    "a[pause 1s][mark x][pause 1s]b",
    "[lang pl: Zegar [hold]stoi][sound splash], \x01 \ufffe [icon key] end.",
    "[b: one [i: two]][br]three",
    "",
    "[pause 1s]",
]

# Said by the synthesiser: words with a second or more between them.
SPOKEN = "[pause 1.5s]Stop.[pause 1s] Wait[pause 1.25s] now[pause 2s][mark m] go."


def pauses_of(schedule):
    steps = schedule["steps"]
    first = steps[0]["onset_us"] if steps else schedule["duration_us"]
    times = [first] + [step.get("pause_us", 0) for step in steps]
    return [round(time / 1000) for time in times if round(time / 1000) > 0]


def silences(samples, rate, least_ms=600):
    """Begin and length, in milliseconds, of stretches that are all but silent."""
    found, at = [], 0
    for loud, run in itertools.groupby(samples, key=lambda s: abs(s) > 250):
        length = sum(1 for _ in run)
        if not loud and length * 1000 / rate >= least_ms:
            found.append((at * 1000 / rate, length * 1000 / rate))
        at += length
    return found


def main(root, arvik):
    def tool(line, *arguments):
        return subprocess.run([arvik, "schedule", *arguments, "--file", "-"], input=line,
                              capture_output=True, text=True, check=True).stdout

    prose = [row for path in sorted(root.glob("demo/prose_*.txt"))
             for row in path.read_text().splitlines() if row and not row.startswith("#")]
    lines = LINES + prose
    schedules = [json.loads(tool(line, "--format", "json")) for line in LINES]
    schedules += map(json.loads, tool("\n".join(prose), "--format", "json", "--batch").splitlines())
    assert len(schedules) == len(lines)
    breaks = 0
    for line, schedule in zip(lines, schedules):
        tree = ET.fromstring(tool(line, "--ssml").encode())  # raises where it is not well-formed
        assert tree.tag == NAMESPACE + "speak" and tree.get("version") == "1.1"
        said = "".join(tree.itertext())
        plain = schedule["text"].replace("\x01", "\ufffd").replace("\ufffe", "\ufffd")
        assert said == plain.replace("\ufffc", ""), (said, plain)
        times = [b.get("time") for b in tree.iter(NAMESPACE + "break")]
        assert all(time.endswith("ms") and time[:-2].isdigit() for time in times), times
        assert [int(time[:-2]) for time in times] == pauses_of(schedule), (line, times)
        marks = [m.get("name") for m in tree.iter(NAMESPACE + "mark")]
        for event in schedule["events"]:
            if event["kind"] == "mark":
                assert event["name"] in marks
        # No two breaks without a word between them, and none that nothing stands before.
        document = ET.tostring(tree, encoding="unicode")
        assert "/><ns0:break" not in document.replace('<ns0:mark name="line-begin" />', ""), document
        breaks += len(times)
    rates = [p.get("rate") for p in
             ET.fromstring(tool("[rate x0.5: a[rate x0.5: b][rate 60cps: c]]", "--ssml"))
             .iter(NAMESPACE + "prosody")]
    assert rates == ["50%", "25%", "200%"], rates
    print(f"{len(lines)} documents with {breaks} breaks are well-formed")

    speaker = shutil.which("espeak-ng")
    if speaker is None:
        print("espeak-ng is not installed: nothing was spoken")
        return 0
    with tempfile.TemporaryDirectory() as folder:
        path = f"{folder}/spoken.wav"
        subprocess.run([speaker, "-m", "-w", path, tool(SPOKEN, "--ssml")], check=True)
        with wave.open(path) as file:
            samples = array.array("h", file.readframes(file.getnframes()))
            found = silences(samples, file.getframerate())
    wanted = pauses_of(json.loads(tool(SPOKEN, "--format", "json")))
    assert len(found) == len(wanted), (found, wanted)
    for (_, length), pause in zip(found, wanted):  # words fade in and out by themselves
        assert abs(length - pause) < 150, (found, wanted)
    assert found[0][0] == 0  # the first pause comes before the first word
    print("spoken with its pauses:", ", ".join(f"{length:.0f} ms" for _, length in found))
    return 0


sys.exit(main(pathlib.Path(sys.argv[1]), sys.argv[2]))
