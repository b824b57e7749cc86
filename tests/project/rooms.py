"""The rooms of the library: what each may include. docs/architecture.md shows this table, and
check_rooms.py holds every #include against it."""

# From the bottom up. A room may include itself and every room in a level below its own; rooms of one
# level do not know each other.
LEVELS = [
    ["base"],
    ["unicode"],
    ["markup"],
    ["prosody"],
    ["pacing", "layout"],
    ["playback", "fonts"],
    ["sound"],
    ["line"],
    ["conversation"],
    ["script", "draw", "audio"],
    ["check"],
    ["c"],
]

# The public headers of each room, without their endings.
HEADERS = {
    "base": ["units", "diagnostic", "export"],
    "unicode": ["steps", "language", "locale"],
    "markup": ["markup", "style", "language_runs"],
    "prosody": ["boundaries"],
    "pacing": ["pace", "schedule", "anchors"],
    "layout": ["font", "box", "layout"],
    "playback": ["reveal", "entrances", "frame", "player_settings"],
    "fonts": ["font_set"],
    "line": ["typesetter"],
    "sound": ["typing_sound", "typing_player"],
    "conversation": ["dialogue_line", "block", "place", "conversation", "stage", "arvik.hpp"],
    "script": ["script_file", "script_player", "pace_file", "style_file", "sound_file", "place_file", "vtt",
               "ssml", "read_file", "script_files", "strings", "strings_table", "translation",
               "script_map", "voice_file"],
    "draw": ["draw"],
    "audio": ["audio_clip", "mixer", "speech", "align"],
    "check": ["check", "check_report", "overview"],
    "c": ["arvik.h"],
}

# What only some rooms may include.
FOREIGN = {
    r"^unicode/u\w+\.h$": {"unicode"},
    r"^(nlohmann/|pugixml)": {"script", "check"},
    r"^csv\.h$": {"script"},
    r"^(hb|ft2build)": {"fonts"},
    r"^cairo": {"draw"},
    r"^(sndfile|samplerate|ebur128)": {"audio"},
    r"^(fstream|iostream|cstdio|filesystem|ctime|unistd\.h|thread|mutex|random)$": {"script", "audio", "check"},
}


def level(room):
    return next(i for i, rooms in enumerate(LEVELS) if room in rooms)


def room_of_header(name):
    """The room of include/arvik/NAME."""
    stem = name.rsplit(".", 1)[0]
    for room, headers in HEADERS.items():
        if name in headers or (stem in headers and name not in ("arvik.h", "arvik.hpp")):
            return room
    return None


def table():
    """The levels as rows of a Markdown table, from the top down."""
    rows = ["| may include all below | public headers in include/arvik/ |", "| --- | --- |"]
    for rooms in reversed(LEVELS):
        headers = "; ".join(", ".join(HEADERS[room]) for room in rooms)
        rows.append(f"| **{'** · **'.join(rooms)}** | {headers} |")
    return "\n".join(rows)
