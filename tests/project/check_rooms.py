"""Who may include whom: every #include of the library against the order of the rooms.

A room may include itself and the rooms below it. ICU belongs to `unicode` alone, JSON and files to
`script`. Usage: check_rooms.py SOURCE_DIR
"""
import pathlib
import re
import sys

# From the bottom up; rooms of one row do not know each other.
LEVELS = [["base"], ["unicode"], ["markup"], ["pacing", "layout"], ["playback", "fonts"], ["line", "sound"], ["conversation"], ["script", "draw", "audio"], ["c"]]
ROOM_OF_HEADER = {
    "units": "base", "diagnostic": "base", "export": "base",
    "steps": "unicode", "language": "unicode",
    "markup": "markup", "style": "markup", "language_runs": "markup",
    "pace": "pacing", "schedule": "pacing",
    "font": "layout", "box": "layout", "layout": "layout",
    "font_set": "fonts",
    "reveal": "playback", "frame": "playback", "player_settings": "playback", "draw": "draw", "chart": "draw",
    "arvik.h": "c",
    "typing_sound": "sound", "typing_player": "sound",
    "audio_clip": "audio", "mixer": "audio",
    "typesetter": "line", "conversation": "conversation", "arvik": "conversation",
    "pace_file": "script", "style_file": "script", "read_file": "script", "script_file": "script", "sound_file": "script", "timed_text": "script",
}
FOREIGN = {  # what only some rooms may include
    r"^unicode/u\w+\.h$": {"unicode"},
    r"^(nlohmann/|pugixml)": {"script"},
    r"^(hb|ft2build)": {"fonts"},
    r"^cairo": {"draw"},
    r"^(sndfile|samplerate)": {"audio"},
    r"^(fstream|iostream|cstdio|filesystem|ctime|unistd\.h|thread|mutex|random)$": {"script", "audio"},
}


def level(room):
    return next(i for i, rooms in enumerate(LEVELS) if room in rooms)


def room_of(path, root):
    parts = path.relative_to(root).parts
    if parts[0] == "src":
        return parts[1]
    return ROOM_OF_HEADER.get(path.name) or ROOM_OF_HEADER.get(path.stem)


def main(root):
    problems, files = [], 0
    for path in sorted([*root.glob("include/arvik/*.h*"), *root.glob("src/*/*")]):
        room = room_of(path, root)
        if room is None:
            problems.append(f"{path}: belongs to no room; add it to ROOM_OF_HEADER")
            continue
        files += 1
        for name in re.findall(r'^#include [<"]([^>"]+)[>"]', path.read_text(), re.M):
            other = None
            if name.startswith("arvik/"):
                header = pathlib.PurePath(name)
                other = ROOM_OF_HEADER.get(header.name) or ROOM_OF_HEADER.get(header.stem)
            elif name.startswith("../"):
                other = name.split("/")[1]
            if other and other != room and level(other) >= level(room):
                problems.append(f"{path}: {room} includes {name} of {other}")
            for pattern, rooms in FOREIGN.items():
                if re.match(pattern, name) and room not in rooms:
                    problems.append(f"{path}: {room} includes {name}")
    print("\n".join(problems) or f"{files} files keep to their rooms")
    return 1 if problems or files < 20 else 0


sys.exit(main(pathlib.Path(sys.argv[1])))
