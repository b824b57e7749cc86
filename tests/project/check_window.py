"""Drives examples/dialogue_window with real keys under a virtual X server, and looks at its pictures.

Usage: check_window.py PROGRAM SCRIPT FONT [SCREENSHOT_FOLDER]
With a folder, a picture of it is kept there.
"""
import pathlib
import sys
import tempfile

from window import Window, brighter, region

LEFT, TOP = 160, 100  # of the window on the screen of 1280 x 800


def ink(pixels, x, y, width, height, least=150):
    """How many light pixels a part of the window has."""
    return brighter(region(pixels, LEFT + x, TOP + y, width, height), least)


def text(pixels):
    return ink(pixels, 220, 376, 660, 170)


def answer(pixels, index):
    """How many pixels of an answer's row have the colour of the chosen one."""
    row = region(pixels, LEFT + 185, TOP + 62 + 67 * index, 8, 40)
    return sum(100 < value < 120 for value in row)


def play(window):
    window.step(6)
    opening = window.look()
    assert text(opening) < 50, "text before the box is open"
    window.step(40)
    early = window.look()
    window.step(40)
    later = window.look()
    assert 300 < text(early) < text(later), (text(early), text(later))
    assert ink(later, 90, 310, 240, 40) > 100, "no name"
    window.key("F5")  # saved in mid-line
    window.key("space")
    window.step(2)
    choosing = window.look()
    assert text(choosing) > text(later), "the press did not show the rest"
    assert answer(choosing, 0) > 200 and answer(choosing, 1) < 20, "the first answer is not marked"
    window.key("space")  # does not choose
    window.step(20)
    window.key("Down")
    moved = window.look("window_choices")
    assert answer(moved, 1) > 200 and answer(moved, 0) < 20, "the second answer is not marked"
    window.key("F9")  # back to where it was saved
    window.step(2)
    loaded = window.look()
    assert abs(text(loaded) - text(later)) < 0.1 * text(later), (text(loaded), text(later))
    assert answer(loaded, 0) < 20, "answers before the line is there"
    window.key("space")
    window.step(20)
    window.key("3")  # not available: refused
    window.step(2)
    refused = window.look()
    assert answer(refused, 0) < 20 and answer(refused, 1) < 20, "another answer is marked"
    assert ink(refused, 196, 196, 560, 50, 60) > 200, "the answers have gone"
    window.key("2")
    window.step(200)
    waiting = window.look()
    assert answer(waiting, 0) > 200, "no second answers"
    window.key("Down")
    window.key("Return")
    for _ in range(30):
        window.step(2)
    assert not window.running, "it did not close"


def main(program, script, font, shots=None):
    with tempfile.TemporaryDirectory() as scratch:
        window = Window([program, script, "low_water", font], pathlib.Path(scratch), shots)
        try:
            play(window)
            out, err = window.game.communicate(timeout=20)
        finally:
            window.close()
        assert window.game.returncode == 0, (window.game.returncode, out, err)
        heard = [row.strip() for row in out.splitlines()]
        # It was saved before the lamp flickered, and loaded after it.
        assert heard.count("mark lamp-flickers") == 2, heard
        assert heard.count("sound valve-thud") == 1, heard
        print("opened, chose, saved, loaded and closed")


main(*sys.argv[1:])
