"""Nothing grows worse than n log n: growth_probe does each kind of work at one size and at four times
that size, and callgrind counts instructions. Usage: check_growth.py PROBE
"""
import collections
import pathlib
import re
import subprocess
import sys
import tempfile

MOST = 5.2  # four times the work, a little for the logarithm


def main(probe):
    with tempfile.TemporaryDirectory() as name:
        folder = pathlib.Path(name)
        command = ["valgrind", "--tool=callgrind", f"--callgrind-out-file={folder}/out", probe]
        result = subprocess.run(command, capture_output=True, text=True)
        assert result.returncode == 0, result.stderr[-3000:]
        counts = collections.defaultdict(dict)
        for path in folder.glob("out.*"):
            text = path.read_text(errors="replace")
            trigger = re.search(r"^desc: Trigger: Client Request: (.*):(\d+)$", text, re.M | re.S)
            total = re.search(r"^(?:totals|summary): (\d+)", text, re.M)
            if trigger and total:
                counts[trigger[1]][int(trigger[2])] = int(total[1])
    problems = []
    for family, by_size in sorted(counts.items()):
        (_, less), (_, more) = sorted(by_size.items())
        print(f"{more / less:6.2f}  {less:>12,}  {family!r}")
        if more > MOST * less:
            problems.append(f"{family!r}: {more / less:.1f} times the work for 4 times the input")
    print("\n".join(problems) or f"{len(counts)} kinds of input grow in proportion")
    return 1 if problems or len(counts) < 45 else 0


sys.exit(main(sys.argv[1]))
