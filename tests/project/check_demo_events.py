"""The same events and sounds at the same times from C++, from C, and from whatever else is there.

Usage: check_demo_events.py SCRIPT CPP_PROGRAM C_PROGRAM [-- COMMAND...]...
"""
import subprocess
import sys


def heard(command, *arguments):
    run = subprocess.run([*command, *arguments], capture_output=True, text=True)
    assert run.returncode == 0, (command, run.stderr)
    return run.stdout.splitlines()


def main(script, cpp, c, *others):
    wanted = heard([cpp], script)
    assert len(wanted) > 500 and wanted[-1].endswith("closed"), wanted[-3:]
    kinds = {row.split()[2] for row in wanted if row.split()[1] == "sound"}
    assert {"typing", "clip", "loop_begin", "loop_end", "voice_begin", "cut"} <= kinds, kinds
    # In another language from the tenth second on: every mark and every line all the same.
    switched = heard([cpp], script, "ar")
    def told(rows, what):
        return [row.split()[1:] for row in rows if what in row.split()[3:4]]
    for what in ("mark", "hold", "page", "line_started", "line_left"):
        assert told(switched, what) == told(wanted, what), (what, told(switched, what), told(wanted, what))
    assert switched != wanted
    commands = [[c]]
    for word in others:
        if word == "--":
            commands.append([])
        else:
            commands[-1].append(word)
    for command in commands:
        found = heard(command, script)
        for number, (a, b) in enumerate(zip(wanted, found)):
            assert a == b, f"{command}: event {number} is {b!r}, not {a!r}"
        assert len(found) == len(wanted), command
        assert heard(command, script, "ar") == switched, command
        # What is no script is told, not crashed on.
        wrong = subprocess.run([*command, __file__], capture_output=True, text=True)
        assert wrong.returncode == 1 and "not JSON" in wrong.stderr, (command, wrong)
    print(f"{len(wanted)} events and sounds, the same from {len(commands) + 1} languages")


main(*sys.argv[1:])
