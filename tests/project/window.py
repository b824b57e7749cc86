"""A program in a window of its own X server, on a clock that a test drives, and what its pictures
show. For check_game.py and check_window.py."""
import os
import struct
import subprocess


class Window:
    """The game in a window of its own X server, on a clock that this test drives: time passes in it by
    step() alone. With a folder for `pictures`, those with a name are kept there."""

    def __init__(self, command, folder, pictures=None):
        self.sound = folder / "sound.raw"
        self.screen = folder / "Xvfb_screen0"  # what the server shows, an XWD file
        self.pictures = pictures
        read, write = os.pipe()
        self.server = subprocess.Popen(["Xvfb", "-displayfd", str(write), "-screen", "0", "1280x800x24",
                                        "-fbdir", str(folder)],
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
        self.game = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
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

    def look(self, name=None):
        """What the screen shows, a byte a pixel, row by row: its green, which is most of its brightness.
        SDL asks for the next frame when the server has drawn the last one."""
        picture = self.screen.read_bytes()
        if name and self.pictures:
            subprocess.run(["convert", "xwd:-", f"{self.pictures}/{name}.png"], input=picture, check=True)
        header = struct.unpack(">25I", picture[:100])
        assert header[4:6] == (1280, 800) and header[11:13] == (32, 5120), header
        return picture[header[0] + 12 * header[19] + 1::4]


def brighter(pixels, least):
    """How many pixels are brighter than `least`."""
    return len(pixels.translate(None, bytes(range(least + 1))))


def region(pixels, x, y, width, height):
    return b"".join(pixels[row * 1280 + x:row * 1280 + x + width] for row in range(y, y + height))
