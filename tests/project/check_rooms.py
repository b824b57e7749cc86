"""Who may include whom: every #include of the library against rooms.py, and the table in
docs/architecture.md against it, too. Usage: check_rooms.py SOURCE_DIR
"""
import pathlib
import re
import sys

from rooms import FOREIGN, level, room_of_header, table


def room_of(path, root):
    parts = path.relative_to(root).parts
    return parts[1] if parts[0] == "src" else room_of_header(path.name)


def main(root):
    problems, files = [], 0
    for path in sorted([*root.glob("include/arvik/*.h*"), *root.glob("src/*/*.[ch]*")]):
        room = room_of(path, root)
        if room is None:
            problems.append(f"{path}: belongs to no room; add it to tests/project/rooms.py")
            continue
        files += 1
        for name in re.findall(r'^#include [<"]([^>"]+)[>"]', path.read_text(), re.M):
            other = None
            if name.startswith("arvik/"):
                other = room_of_header(name.removeprefix("arvik/"))
            elif name.startswith("../"):
                other = name.split("/")[1]
            if other and other != room and level(other) >= level(room):
                problems.append(f"{path}: {room} includes {name} of {other}")
            for pattern, rooms in FOREIGN.items():
                if re.match(pattern, name) and room not in rooms:
                    problems.append(f"{path}: {room} includes {name}")
    if table() not in (root / "docs/architecture.md").read_text():
        problems.append(f"docs/architecture.md: its table of rooms must be:\n{table()}")
    print("\n".join(problems) or f"{files} files keep to their rooms")
    return 1 if problems or files < 20 else 0


sys.exit(main(pathlib.Path(sys.argv[1])))
