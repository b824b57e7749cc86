"""A game is saved in one process and loaded in another: with another box, another font size, another
language, a line inserted, a line removed. What comes is what has not come.

Usage: check_places.py LIBRARY
"""
import ctypes as c
import json
import re
import subprocess
import sys

EVENT = re.compile(r"\[(?:mark|sound) (\w+)\]")
ENGLISH = {
    "one": "The tide [mark a]clock stopped.[hold] And nobody[mark b] heard it.",
    "two": "It was calling, [mark c]all night long, [sound d]to whoever was there.[mark e]",
    "three": "Good [mark f]night.",
}
POLISH = {
    "one": "Zegar [mark a]pływów stanął.[hold] I nikt[mark b] tego nie słyszał, nikt w całym porcie.",
    "two": "[mark c]Wołał całą noc, [mark e]kogokolwiek,[sound d] kto tam był.",
    "three": "[mark f]Dobranoc.",
}


def script(texts, order, locale="en"):
    lines = [{"id": name, "text": texts.get(name, "Something new.")} for name in order]
    return json.dumps({"arvik_script": 1, "locale": locale, "conversations": {"pier": lines}}).encode()


class Event(c.Structure):
    _fields_ = [("size", c.c_size_t), ("kind", c.c_int32), ("kind_name", c.c_char_p), ("time_ns", c.c_int64),
                ("line", c.c_uint32), ("skipped", c.c_int32), ("step", c.c_uint32), ("attributes", c.c_uint32),
                ("name", c.c_char_p), ("line_id", c.c_char_p)]


class Box(c.Structure):
    _fields_ = [("size", c.c_size_t), ("width", c.c_float), ("height", c.c_float), ("rows", c.c_uint32)]


class Talk:
    """A conversation in this process."""

    def __init__(self, library, text, width, rows, font_size):
        self.arvik = arvik = c.CDLL(library)
        for name in ("script_read", "talk_create", "talk_write_place", "font_create_measured"):
            getattr(arvik, "arvik_" + name).restype = c.c_void_p
        arvik.arvik_talk_tick.argtypes = [c.c_void_p, c.c_int64, c.c_uint32]
        read = arvik.arvik_script_read(text, c.c_size_t(len(text)), 0, None)
        measure = c.CFUNCTYPE(c.c_float, c.c_void_p, c.c_char_p, c.c_size_t, c.c_uint32, c.c_float)
        self.measure = measure(lambda user, step, size, style, factor: font_size)
        font = arvik.arvik_font_create_measured(self.measure, None, c.c_float(font_size), c.c_float(font_size), None)
        box = Box(c.sizeof(Box), width, 0, rows)
        self.talk = c.c_void_p(arvik.arvik_talk_create(None, c.c_void_p(read), c.c_void_p(font), c.byref(box), None))
        assert self.talk

    def tick(self, milliseconds, buttons=0):
        """The marks and sounds that come, with the ids of their lines; and what else happens."""
        count = self.arvik.arvik_talk_tick(self.talk, milliseconds * 1_000_000, buttons)
        event, told, happened = Event(size=c.sizeof(Event)), [], []
        for index in range(count):
            self.arvik.arvik_talk_event_at(self.talk, index, c.byref(event))
            kind = event.kind_name.decode()
            happened.append(kind)
            if kind in ("mark", "sound"):
                told.append(event.name.decode())
        return told, happened


def save(library, presses, milliseconds):
    """Process one: plays, and writes its place to stdout, with what has come."""
    talk = Talk(library, script(ENGLISH, ["one", "two", "three"]), 300, 2, 10)
    talk.arvik.arvik_talk_start(talk.talk, None, None, None)
    came = []
    for _ in range(presses):
        came += talk.tick(10_000)[0]
        came += talk.tick(1, 1)[0]
        came += talk.tick(1)[0]
    came += talk.tick(milliseconds)[0]
    place = c.string_at(talk.arvik.arvik_talk_write_place(talk.talk, None)).decode()
    print(json.dumps({"came": came, "place": place}))


def load(library, how):
    """Process two: reads what process one wrote, plays to the end, and tells what comes."""
    saved = json.load(sys.stdin)
    texts, order, width, rows, size, locale = {
        "same": (ENGLISH, ["one", "two", "three"], 300, 2, 10, "en"),
        "narrow": (ENGLISH, ["one", "two", "three"], 90, 1, 10, "en"),
        "large": (ENGLISH, ["one", "two", "three"], 300, 2, 24, "en"),
        "polish": (POLISH, ["one", "two", "three"], 300, 2, 10, "pl"),
        "patched": (ENGLISH, ["new", "one", "newer", "two"], 300, 2, 10, "en"),
    }[how]
    talk = Talk(library, script(texts, order, locale), width, rows, size)
    place = saved["place"].encode()
    assert talk.arvik.arvik_talk_start_at(talk.talk, place, c.c_size_t(len(place)), None) == 1
    came, closed = [], 0
    for turn in range(4000):
        told, happened = talk.tick(50, turn % 8 == 7)
        came += told
        closed += happened.count("closed")
    print(json.dumps({"came": came, "closed": closed}))


def main(library):
    me = [sys.executable, __file__]
    played = 0
    for presses, milliseconds in [(0, 300), (0, 900), (0, 2500), (1, 10), (1, 700), (2, 100), (2, 1500), (2, 2600),
                                  (3, 50), (3, 400)]:
        saved = subprocess.run([*me, "save", library, str(presses), str(milliseconds)], capture_output=True,
                               check=True).stdout
        before = json.loads(saved)["came"]
        for how in ("same", "narrow", "large", "polish", "patched"):
            run = subprocess.run([*me, "load", library, how], input=saved, capture_output=True)
            # The line that stands there is gone from the patched script.
            gone = how == "patched" and '\\"line\\":\\"three\\"' in saved.decode()
            if gone:
                assert run.returncode != 0, "a line that is gone was found"
                continue
            assert run.returncode == 0, (presses, milliseconds, how, run.stderr.decode())
            after = json.loads(run.stdout)
            names = [name for line in ENGLISH.values() for name in EVENT.findall(line)]
            wanted = [n for n in names if n != "f"] if how == "patched" else names
            assert sorted(before + after["came"]) == wanted, (presses, milliseconds, how, before, after)
            assert after["closed"] == 1, (how, after)
            played += 1
    print(f"{played} games saved in one process and loaded in another")


if len(sys.argv) == 2:
    main(sys.argv[1])
elif sys.argv[1] == "save":
    save(sys.argv[2], int(sys.argv[3]), int(sys.argv[4]))
else:
    load(sys.argv[2], sys.argv[3])
