"""Plays the windowed game to its end with real window events, under a virtual X server, and looks at
its pictures and its sound.

Usage: check_game.py GAME SCRIPT [SCREENSHOT_FOLDER]
With a folder, pictures of it are kept there.
"""
import array
import pathlib
import re
import sys
import tempfile

from window import Window, brighter, region


def ink(pixels, x=320, y=580, width=800, height=160):
    """How many light pixels there are, by default where the text stands in the box."""
    return brighter(region(pixels, x, y, width, height), 150)


def step_until(window, what, condition, keep=None, every=2, most=200):
    """Looks every few frames until a picture is as wanted; returns it, and keeps it by that name."""
    for _ in range(most):
        pixels = window.look()
        if condition(pixels):
            return window.look(keep)
        if not window.running:
            break
        window.step(every)
    sys.exit(f"the game never showed {what}")


def openness(pixels):
    """How high the box is, from 0 to 1, by its left edge."""
    edge = region(pixels, 122, 556, 4, 204)
    return sum(max(edge[row * 4:row * 4 + 4]) > 120 for row in range(204)) / 204


def has_indicator(pixels):
    return ink(pixels, 1090, 705, 50, 40) > 60


def play(window):
    bubbles = step_until(window, "bubbles", lambda p: ink(p, 260, 180, 250, 110) > 4000)
    assert ink(bubbles, 660, 220, 360, 130) > 4000, "only one bubble"
    assert ink(bubbles) < 200, "a box before its time"
    window.step(90)
    window.look("game_bubbles")
    window.key("space")  # shows the rest of both
    window.step(12)  # a press right behind it was meant for the text that was there
    window.key("space")  # and goes on
    half_open = step_until(window, "a half-open box", lambda p: 0.3 < openness(p) < 0.7, "game_opening", every=1)
    assert ink(half_open) < 300, "text before the box is open"
    early = step_until(window, "text", lambda p: ink(p) > 300)
    later = step_until(window, "more text", lambda p: ink(p) > ink(early) + 300, "game_line")
    # What was there has not moved: ink of the first picture is still there, but for a soft edge.
    before, after = region(early, 320, 580, 800, 60), region(later, 320, 580, 800, 60)
    lost = sum(a > 150 and b < 100 for a, b in zip(before, after))
    assert lost < 30, f"{lost} pixels of shown text moved"

    window.key("Escape")
    paused = window.look("game_menu")
    assert ink(paused, 480, 262, 320, 240) > 200, "no menu"
    window.step(60)
    assert window.look() == paused, "something moves in the menu"
    window.key("Down")
    window.key("Right")  # fast
    # Another language in the middle of the line: other glyphs at once, and it goes on from there.
    for _ in range(2):
        window.key("Down")
    pictures = [region(window.look(), 480, 180, 320, 396)]
    for language in range(1, 6):
        window.key("Right")
        pictures.append(region(window.look(f"game_language_{language}"), 480, 180, 320, 396))
    assert len(set(pictures)) == 5 and pictures[0] == pictures[5], "the menu has not five languages"
    for _ in range(4):
        window.key("Left")
    window.key("Escape")
    polish = window.look()
    assert 300 < ink(polish), "no text in the other language"
    window.key("Escape")
    for _ in range(3):
        window.key("Down")
    window.key("Left")
    window.key("Escape")
    window.do("click", "1")  # the mouse shows the rest
    step_until(window, "the indicator", has_indicator)
    window.step(30)  # the rest has come in
    waiting = window.look("game_waiting")
    # A button held down goes on once, and neither rushes nor goes on again.
    window.do("keydown", "Return")
    window.step(40)
    window.do("keyup", "Return")
    window.step()
    assert ink(window.look()) != ink(waiting), "the held button did nothing"
    window.key("F1")
    right_to_left = False
    presses = 0
    while window.running:
        presses += 1
        assert presses < 400, "the game has no end"
        if presses == 24:
            window.key("h")
            history = window.look("game_history")
            assert ink(history, 140, 130, 1000, 500) > 8000, "no history"
            window.key("h")
        window.key("space")
        window.step(5)
        if not right_to_left and presses > 50 and window.running:
            # A line that stands at the right side of the box, and not at the left.
            pixels = window.look()
            if ink(pixels, 900, 580, 230, 60) > 400 and ink(pixels, 330, 580, 60, 60) < 20:
                right_to_left = True
                window.step(20)
                window.look("game_right_to_left")
    assert right_to_left, "no right-to-left line"


def check_sound(path):
    data = path.read_bytes()
    samples = array.array("f")
    samples.frombytes(data[:len(data) // 8 * 8])
    loudest = max(map(abs, samples))
    assert 0.05 < loudest <= 1, f"the loudest sample is {loudest}"
    # Sounds begin out of silence again and again: typing, not one long noise.
    starts, quiet = 0, 0
    for sample in samples[::2]:
        if abs(sample) > 0.02:
            starts += quiet > 480
            quiet = 0
        else:
            quiet += 1
    assert starts > 20, f"{starts} sounds"
    return starts


def main(game, script, shots=None):
    with tempfile.TemporaryDirectory() as scratch:
        window = Window([game, script], pathlib.Path(scratch), shots)
        try:
            play(window)
            out, err = window.game.communicate(timeout=20)
        finally:
            window.close()
        assert window.game.returncode == 0, (window.game.returncode, out, err)
        lines = int(re.match(r"(\d+) lines", out)[1])
        assert lines == 31, out
        assert ", 0 allocations" in re.sub(r"; ", ", ", out), out
        starts = check_sound(window.sound)
        print(f"played to the end: {starts} sounds; {out.strip()}")


main(*sys.argv[1:])
