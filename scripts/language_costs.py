"""What it costs to prepare the demo's prose in each language, beside ICU's two bare passes (graphemes,
row breaks) over the same text: instructions, counted by callgrind, and times.
Usage: language_costs.py PROGRAM [TAG...]; SAVED=FILE also prints what has changed since a saved run,
SAVE=FILE saves one."""
import json
import os
import pathlib
import re
import subprocess
import sys
import tempfile

STAGES = ["parse", "segment", "boundaries", "layout", "breaks", "schedule"]


def measure(program, tag, path):
    times = {}
    for row in subprocess.run([program, tag, path], capture_output=True, text=True, check=True).stdout.splitlines():
        name, time = row.split()
        times[name] = float(time)
    counts = {}
    with tempfile.TemporaryDirectory() as folder:
        subprocess.run(["valgrind", "--tool=callgrind", "--instr-atstart=no", f"--callgrind-out-file={folder}/out",
                        program, tag, path], capture_output=True, check=True)
        for out in pathlib.Path(folder).glob("out.*"):
            text = out.read_text(errors="replace")
            trigger = re.search(r"^desc: Trigger: Client Request: (.*)$", text, re.M)
            total = re.search(r"^(?:totals|summary): (\d+)", text, re.M)
            if trigger and total:
                counts[trigger[1]] = int(total[1])
    return counts, times


def main(program, *tags):
    demo = pathlib.Path(__file__).parent.parent / "demo"
    tags = tags or sorted(path.stem[6:] for path in demo.glob("prose_*.txt"))
    saved = json.load(open(os.environ["SAVED"])) if "SAVED" in os.environ else {}
    results = {}
    print("as parts of ICU's two passes over the same text; instructions, then time")
    print(f"{'':6}{'all':>7}{'time':>7}" + "".join(f"{stage:>12}" for stage in STAGES) + f"{'(rows)':>9}"
          + ("   before" if saved else ""))
    for tag in tags:
        counts, times = measure(program, tag, demo / f"prose_{tag}.txt")
        both = counts["graphemes"] + counts["rows"]
        results[tag] = counts["all"] / both
        row = f"{tag:6}{results[tag]:7.2f}{times['all'] / (times['graphemes'] + times['rows']):7.2f}"
        row += "".join(f"{counts[stage] / both:12.2f}" for stage in STAGES) + f"{counts['rows'] / both:9.2f}"
        print(row + (f"{saved[tag]:9.2f}" if tag in saved else ""), flush=True)
    if "SAVE" in os.environ:
        json.dump(results, open(os.environ["SAVE"], "w"))


main(*sys.argv[1:])
