"""Plays the windowed game to its end with real window events, under a virtual X server, and looks at
its pictures and its sound.

Usage: check_game.py GAME SCRIPT [SCREENSHOT_FOLDER]
With a folder, pictures of it are kept there.
"""
import array
import os
import pathlib
import re
import subprocess
import sys
import tempfile


class Window:
    """The game in a window of its own X server, on a clock that this test drives: time passes in it by
    step() alone."""

    def __init__(self, game, script, folder):
        self.sound = folder / "sound.raw"
        self.folder = folder
        read, write = os.pipe()
        self.server = subprocess.Popen(["Xvfb", "-displayfd", str(write), "-screen", "0", "1280x800x24"],
                                       pass_fds=[write], stderr=subprocess.DEVNULL)
        os.close(write)
        with os.fdopen(read) as display:
            number = display.readline().strip()
        to_game, self.grant = os.pipe()
        self.asked, from_game = os.pipe()
        self.environment = {**os.environ, "DISPLAY": f":{number}", "SDL_VIDEODRIVER": "x11",
                            "SDL_RENDER_DRIVER": "software", "ARVIK_SOUND": str(self.sound),
                            # What SDL loads (D-Bus) leaks; Arvik's own leaks show in other tests.
                            "ASAN_OPTIONS": "detect_leaks=0"}
        self.game = subprocess.Popen([game, script], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
                                     env={**self.environment, "ARVIK_FRAMES": f"{to_game}:{from_game}"},
                                     pass_fds=[to_game, from_game])
        os.close(to_game)
        os.close(from_game)
        self.running = os.read(self.asked, 1) != b""

    def close(self):
        for process in (self.game, self.server):
            if process.poll() is None:
                process.kill()
            process.wait()

    def step(self, frames=1):
        """Lets frames of 16 ms pass, as long as the game runs."""
        for _ in range(frames):
            if not self.running:
                return
            try:
                os.write(self.grant, b"s")
            except BrokenPipeError:  # it ended between asking and being granted
                self.running = False
                return
            self.running = os.read(self.asked, 1) != b""

    def do(self, *words):
        """Sends input, and waits until the server has passed it on."""
        subprocess.run(["xdotool", *words], env=self.environment, check=True, stderr=subprocess.DEVNULL)
        for _ in range(2):
            subprocess.run(["xdotool", "getmouselocation"], env=self.environment, check=True,
                           stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)

    def key(self, *keys):
        self.do("key", *keys)
        self.step()

    def shot(self, name):
        """A picture of the window; its grey pixels, row by row."""
        path = self.folder / f"{name}.png"
        subprocess.run(["import", "-silent", "-window", "root", str(path)], env=self.environment,
                       check=True)
        return grey(path)


def grey(path):
    return subprocess.run(["convert", str(path), "-colorspace", "gray", "-depth", "8", "gray:-"],
                          capture_output=True, check=True).stdout


def region(pixels, x, y, width, height):
    return b"".join(pixels[row * 1280 + x:row * 1280 + x + width] for row in range(y, y + height))


def ink(pixels, x=320, y=580, width=800, height=160):
    """How many light pixels there are, by default where the text stands in the box."""
    return sum(value > 150 for value in region(pixels, x, y, width, height))


def step_until(window, what, condition, keep=None, every=2, most=200):
    """Looks every few frames until a picture is as wanted; returns it, and keeps it by that name."""
    for _ in range(most):
        pixels = window.shot("look")
        if condition(pixels):
            if keep:
                (window.folder / "look.png").rename(window.folder / f"{keep}.png")
            return pixels
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
    window.shot("game_bubbles")
    window.key("space")  # shows the rest of both
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
    paused = window.shot("game_menu")
    assert ink(paused, 480, 262, 320, 240) > 200, "no menu"
    window.step(60)
    assert window.shot("look") == paused, "something moves in the menu"
    window.key("Down")
    window.key("Right")  # fast
    window.key("Escape")
    window.do("click", "1")  # the mouse shows the rest
    step_until(window, "the indicator", has_indicator)
    waiting = window.shot("game_waiting")
    # A button held down goes on once, and neither rushes nor goes on again.
    window.do("keydown", "Return")
    window.step(40)
    window.do("keyup", "Return")
    window.step()
    assert ink(window.shot("look")) != ink(waiting), "the held button did nothing"
    window.key("F1")
    right_to_left = False
    presses = 0
    while window.running:
        presses += 1
        assert presses < 400, "the game has no end"
        if presses == 24:
            window.key("h")
            history = window.shot("game_history")
            assert ink(history, 140, 130, 1000, 500) > 8000, "no history"
            window.key("h")
        window.key("space")
        window.step(5)
        if not right_to_left and presses > 50 and window.running:
            # A line that stands at the right side of the box, and not at the left.
            pixels = window.shot("look")
            if ink(pixels, 900, 580, 230, 60) > 400 and ink(pixels, 330, 580, 60, 60) < 20:
                right_to_left = True
                window.step(20)
                window.shot("game_right_to_left")
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
        window = Window(game, script, pathlib.Path(scratch))
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
        if shots:
            for path in pathlib.Path(scratch).glob("game_*.png"):
                (pathlib.Path(shots) / path.name).write_bytes(path.read_bytes())
        print(f"played to the end: {starts} sounds; {out.strip()}")


main(*sys.argv[1:])
