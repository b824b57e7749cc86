"""WebVTT of the tool in a real browser: its parser must find every cue, text and timestamp.

Skipped (exit status 77) where Chromium is not installed. Usage: check_vtt.py SOURCE_DIR ARVIK
"""
import base64
import json
import pathlib
import shutil
import subprocess
import sys
import tempfile

# Rows as the tool gets them, and what must be readable in the browser.
TRAPS = [
    "A row with --> in it, and <b>tags</b> &amp; &.",
    "One[br][br]Two[br]",
    "[br]Late",
    "[pause 1s]A late begin.",
    "[whole: All at once.] [b: [i: x]] [lang ja: 水門]",
    "[hold][pause 2s]",
    "x",
    "ساعة المد توقفت، أليس كذلك؟",
    "[rate 100000cps: faster than a millisecond]",
    "tab\there \x01 and a control",
]

PAGE = """<!doctype html><meta charset="utf-8"><pre id="out">nothing</pre><video></video><script>
const track = document.createElement("track");
track.src = "data:text/vtt;base64,%s";
track.default = true;
track.onload = () => {
  const cues = [...track.track.cues].map(cue => {
    const stamps = [];
    const walk = node => {
      if (node.nodeType === Node.PROCESSING_INSTRUCTION_NODE) stamps.push(node.data);
      node.childNodes.forEach(walk);
    };
    const fragment = cue.getCueAsHTML();
    walk(fragment);
    const voice = fragment.querySelector("span[title]");
    return {begin: cue.startTime, end: cue.endTime, text: fragment.textContent, stamps,
            voice: voice && voice.title};
  });
  document.getElementById("out").textContent = btoa(unescape(encodeURIComponent(JSON.stringify(cues))));
};
track.onerror = () => { document.getElementById("out").textContent = "error"; };
document.querySelector("video").append(track);
track.track.mode = "showing";
</script>"""


def in_browser(chromium, vtt):
    with tempfile.TemporaryDirectory() as folder:
        page = pathlib.Path(folder) / "page.html"
        page.write_text(PAGE % base64.b64encode(vtt.encode()).decode())
        run = subprocess.run(
            [chromium, "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic",
             "--no-first-run", "--disable-background-networking", "--disable-component-update",
             "--disable-sync", f"--user-data-dir={folder}/profile", "--virtual-time-budget=10000",
             "--dump-dom", page.as_uri()],
            capture_output=True, text=True, timeout=120)
    found = run.stdout.split('<pre id="out">')[1].split("</pre>")[0]
    assert found not in ("nothing", "error"), found + run.stderr[-2000:]
    return json.loads(base64.b64decode(found))


def milliseconds(stamp):
    hours, minutes, seconds = stamp.split(":")
    return round((int(hours) * 60 + int(minutes)) * 60_000 + float(seconds) * 1000)


def expected_stamps(schedule, begin, end):
    stamps, last = [], begin
    for step in schedule["steps"]:
        time = begin + (step["onset_us"] + 500) // 1000
        if last < time < end:
            stamps.append(time)
            last = time
    return stamps


def main(root, arvik):
    chromium = shutil.which("chromium")
    if chromium is None:
        print("skipped: Chromium is not installed")
        return 77
    lines = TRAPS + [row for path in sorted(root.glob("demo/prose_*.txt"))
                     for row in path.read_text().splitlines() if row and not row.startswith("#")]
    rows = "\n".join(lines)

    def tool(*arguments):
        return subprocess.run([arvik, "schedule", "--batch", "--file", "-", *arguments],
                              input=rows, capture_output=True, text=True, check=True).stdout

    vtt = tool("--format", "vtt", "--speaker", "Odrun & <sister>")
    schedules = [json.loads(row) for row in tool().splitlines()]
    spoken = [s for s in schedules if s["steps"]]
    cues = in_browser(chromium, vtt)
    assert len(cues) == len(spoken), (len(cues), len(spoken))
    begin = stamps = 0
    for cue, schedule in zip(cues, spoken):
        text = schedule["text"].replace("\x01", "\ufffd")
        rows = [row or "\u00a0" for row in text.split("\n")]
        assert cue["text"] == "\n".join(rows), (cue["text"], text)
        assert cue["voice"] == "Odrun & <sister>", cue["voice"]
        end = round(cue["end"] * 1000)
        assert round(cue["begin"] * 1000) == begin, (cue, begin)
        assert abs(end - begin - schedule["duration_us"] / 1000 - 1500) <= 1, (cue, schedule)
        found = [milliseconds(stamp) for stamp in cue["stamps"]]
        wanted = expected_stamps(schedule, begin, end)
        # Begins are exact in the tool and whole milliseconds here.
        assert len(found) == len(wanted), (schedule["text"], found, wanted)
        assert all(abs(a - b) <= 1 for a, b in zip(found, wanted)), (found, wanted)
        assert found == sorted(set(found)) and all(begin < t < end for t in found)
        begin, stamps = end, stamps + len(found)
    print(f"{len(cues)} cues with {stamps} timestamps, as Chromium reads them")
    return 0


sys.exit(main(pathlib.Path(sys.argv[1]), sys.argv[2]))
