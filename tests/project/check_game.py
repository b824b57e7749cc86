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
import time


class Window:
    """The game in a window of its own X server."""

    def __init__(self, game, script, folder):
        self.sound = folder / "sound.raw"
        self.folder = folder
        read, write = os.pipe()
        self.server = subprocess.Popen(["Xvfb", "-displayfd", str(write), "-screen", "0", "1280x800x24"],
                                       pass_fds=[write], stderr=subprocess.DEVNULL)
        os.close(write)
        with os.fdopen(read) as display:
            number = display.readline().strip()
        self.environment = {**os.environ, "DISPLAY": f":{number}", "SDL_AUDIODRIVER": "disk",
                            "SDL_DISKAUDIOFILE": str(self.sound), "SDL_VIDEODRIVER": "x11",
                            "SDL_RENDER_DRIVER": "software",
                            # What SDL loads (D-Bus) leaks; Arvik's own leaks show in other tests.
                            "ASAN_OPTIONS": "detect_leaks=0"}
        self.game = subprocess.Popen([game, script], env=self.environment, stdout=subprocess.PIPE,
                                     stderr=subprocess.PIPE, text=True)

    def close(self):
        for process in (self.game, self.server):
            if process.poll() is None:
                process.kill()
            process.wait()

    def do(self, *words):
        subprocess.run(["xdotool", *words], env=self.environment, check=True, stderr=subprocess.DEVNULL)

    def key(self, *keys):
        self.do("key", *keys)

    def running(self):
        return self.game.poll() is None

    def shot(self, name):
        """A picture of the window; answers its grey pixels, row by row."""
        path = self.folder / f"{name}.png"
        subprocess.run(["import", "-silent", "-window", "root", str(path)], env=self.environment,
                       check=True)
        return grey(path)

    def burst(self, count, keys):
        """Pictures one right after the other, while keys are pressed; answers their paths."""
        taking = subprocess.Popen(["import", "-silent", "-window", "root", "-snaps", str(count),
                                   str(self.folder / "burst_%02d.ppm")], env=self.environment)
        self.key(*keys)
        assert taking.wait() == 0
        return sorted(self.folder.glob("burst_*.ppm"))


def grey(path):
    return subprocess.run(["convert", str(path), "-colorspace", "gray", "-depth", "8", "gray:-"],
                          capture_output=True, check=True).stdout


def region(pixels, x, y, width, height):
    return b"".join(pixels[row * 1280 + x:row * 1280 + x + width] for row in range(y, y + height))


def ink(pixels, x=320, y=580, width=800, height=160):
    """How many light pixels there are, by default where the text stands in the box."""
    return sum(value > 150 for value in region(pixels, x, y, width, height))


def wait_for(window, what, condition, keep=None, seconds=20):
    """Looks again and again until a picture is as wanted; answers it, and keeps it by that name."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        if not window.running():
            break
        pixels = window.shot("look")
        if condition(pixels):
            if keep:
                (window.folder / "look.png").rename(window.folder / f"{keep}.png")
            return pixels
        time.sleep(0.02)
    sys.exit(f"the game never showed {what}")


def openness(pixels):
    """How high the box is, from 0 to 1, by its left edge."""
    edge = region(pixels, 122, 556, 4, 204)
    return sum(max(edge[row * 4:row * 4 + 4]) > 120 for row in range(204)) / 204


def has_indicator(pixels):
    return ink(pixels, 1090, 705, 50, 40) > 60


def play(window):
    bubbles = wait_for(window, "bubbles", lambda p: ink(p, 260, 180, 250, 110) > 4000)
    assert ink(bubbles, 660, 220, 360, 130) > 4000, "only one bubble"
    assert ink(bubbles) < 200, "a box before its time"
    time.sleep(1.5)
    window.shot("game_bubbles")
    window.key("space")
    opening = window.burst(16, ["space"])
    half_open = min(opening, key=lambda path: abs(openness(grey(path)) - 0.5))
    assert 0.1 < openness(grey(half_open)) < 0.9, "the box does not open by and by"
    subprocess.run(["convert", str(half_open), str(window.folder / "game_opening.png")], check=True)
    early = wait_for(window, "text", lambda p: ink(p) > 300)
    later = wait_for(window, "more text", lambda p: ink(p) > ink(early) + 300, "game_line")
    # What was there has not moved: ink of the first picture is still there, but for a soft edge.
    before, after = region(early, 320, 580, 800, 60), region(later, 320, 580, 800, 60)
    lost = sum(a > 150 and b < 100 for a, b in zip(before, after))
    assert lost < 30, f"{lost} pixels of shown text moved"

    window.key("Escape")
    wait_for(window, "the menu", lambda p: ink(p, 480, 262, 320, 240) > 200)
    paused = window.shot("game_menu")
    time.sleep(0.7)
    assert window.shot("look") == paused, "something moves in the menu"
    window.key("Down")
    window.key("Right")  # fast
    window.key("Escape")
    window.do("click", "1")  # the mouse shows the rest
    wait_for(window, "the indicator", has_indicator)
    window.shot("game_waiting")
    # A button held down neither goes on twice nor rushes.
    window.do("keydown", "Return")
    time.sleep(0.6)
    window.do("keyup", "Return")
    window.key("F1")
    right_to_left = False
    presses = 0
    while window.running():
        presses += 1
        assert presses < 400, "the game has no end"
        if presses == 24:
            window.key("h")
            time.sleep(0.2)
            history = window.shot("game_history")
            assert ink(history, 140, 130, 1000, 500) > 8000, "no history"
            window.key("h")
        window.key("space")
        time.sleep(0.09)
        if not right_to_left and presses > 50 and window.running():
            # A line that stands at the right side of the box, and not at the left.
            pixels = window.shot("look")
            if ink(pixels, 900, 580, 230, 60) > 400 and ink(pixels, 330, 580, 60, 60) < 20:
                right_to_left = True
                time.sleep(0.3)
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
