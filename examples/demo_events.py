"""Every event and every sound of the demo script, with its time, from Python without a compiler:
ctypes and the shared library of the C interface.

Usage: demo_events.py LIBRARY SCRIPT [LOCALE]
With a locale it goes over to that language after ten seconds.
"""
import ctypes as c
import sys

NUL = c.c_size_t(-1).value


class Error(c.Structure):
    _fields_ = [("size", c.c_size_t), ("code", c.c_char * 32), ("message", c.c_char * 256),
                ("row", c.c_uint32), ("column", c.c_uint32)]


class Problem(c.Structure):
    _fields_ = [("size", c.c_size_t), ("code", c.c_char_p), ("message", c.c_char_p),
                ("hint", c.c_char_p), ("pointer", c.c_char_p), ("row", c.c_uint32),
                ("column", c.c_uint32), ("is_error", c.c_int32), ("file", c.c_char_p),
                ("key", c.c_char_p), ("locale", c.c_char_p)]


class TalkSettings(c.Structure):
    _fields_ = [("size", c.c_size_t), ("opening_ns", c.c_int64), ("closing_ns", c.c_int64),
                ("grace_ns", c.c_int64), ("hurry_after_ns", c.c_int64), ("hurry", c.c_int32),
                ("by_itself", c.c_int32)]  # those behind it keep their defaults


class TalkEvent(c.Structure):
    _fields_ = [("size", c.c_size_t), ("kind", c.c_int32), ("kind_name", c.c_char_p),
                ("time_ns", c.c_int64), ("line", c.c_uint32), ("skipped", c.c_int32), ("step", c.c_uint32),
                ("attributes", c.c_uint32), ("name", c.c_char_p), ("line_id", c.c_char_p)]


class Sound(c.Structure):
    _fields_ = [("size", c.c_size_t), ("kind", c.c_int32), ("step", c.c_uint32),
                ("kind_name", c.c_char_p), ("name", c.c_char_p), ("delay_ns", c.c_int64),
                ("fade_ns", c.c_int64), ("sound", c.c_uint32), ("channel", c.c_uint32),
                ("pitch", c.c_float), ("gain", c.c_float), ("pan", c.c_float)]


def declare(library):
    """Answers and arguments of the functions that are used, as in arvik.h."""
    for name, answer, *arguments in (
            ("abi_version", c.c_uint32),
            ("setter_create", c.c_void_p, c.c_char_p, c.POINTER(Error)),
            ("setter_destroy", None, c.c_void_p),
            ("setter_set_value", c.c_int32, c.c_void_p, c.c_char_p, c.c_char_p, c.c_size_t),
            ("script_load", c.c_void_p, c.c_char_p, c.c_int32, c.POINTER(Error)),
            ("script_destroy", None, c.c_void_p),
            ("script_is_good", c.c_int32, c.c_void_p),
            ("script_problems", c.c_uint32, c.c_void_p),
            ("script_problem", c.c_int32, c.c_void_p, c.c_uint32, c.POINTER(Problem)),
            ("talk_create", c.c_void_p, c.c_void_p, c.c_void_p, c.c_void_p, c.c_void_p,
             c.POINTER(Error)),
            ("talk_destroy", None, c.c_void_p),
            ("talk_configure", c.c_int32, c.c_void_p, c.POINTER(TalkSettings)),
            ("talk_start", c.c_int32, c.c_void_p, c.c_char_p, c.c_char_p, c.POINTER(Error)),
            ("talk_set_locale", c.c_int32, c.c_void_p, c.c_char_p, c.c_void_p, c.POINTER(Error)),
            ("talk_tick", c.c_uint32, c.c_void_p, c.c_int64, c.c_uint32),
            ("talk_event_at", c.c_int32, c.c_void_p, c.c_uint32, c.POINTER(TalkEvent)),
            ("talk_sounds", c.c_uint32, c.c_void_p),
            ("talk_sound", c.c_int32, c.c_void_p, c.c_uint32, c.POINTER(Sound))):
        function = getattr(library, "arvik_" + name)
        function.restype, function.argtypes = answer, arguments


def main(path, script_path, locale=None):
    arvik = c.CDLL(path)
    declare(arvik)
    if arvik.arvik_abi_version() != 2:
        sys.exit("the library has another ABI")
    error = Error(size=c.sizeof(Error))

    def checked(result):
        if not result:
            sys.exit(f"{error.message.decode()} ({error.code.decode()})")
        return result

    script = checked(arvik.arvik_script_load(script_path.encode(), 0, c.byref(error)))
    problem = Problem(size=c.sizeof(Problem))
    for index in range(arvik.arvik_script_problems(script)):
        arvik.arvik_script_problem(script, index, c.byref(problem))
        print(f"{script_path}:{problem.row}:{problem.column}: {problem.message.decode()}",
              file=sys.stderr)
    if not arvik.arvik_script_is_good(script):
        sys.exit(1)
    setter = checked(arvik.arvik_setter_create(b"en", c.byref(error)))
    arvik.arvik_setter_set_value(setter, b"keeper", b"Pell", NUL)
    talk = checked(arvik.arvik_talk_create(setter, script, None, None, c.byref(error)))
    settings = TalkSettings(c.sizeof(TalkSettings), grace_ns=150_000_000, hurry=4000, by_itself=1)
    arvik.arvik_talk_configure(talk, c.byref(settings))
    checked(arvik.arvik_talk_start(talk, None, None, c.byref(error)))
    event, sound = TalkEvent(size=c.sizeof(TalkEvent)), Sound(size=c.sizeof(Sound))
    now, kind = 0, ""
    while kind != "closed":
        if locale and now >= 10_000_000_000:
            checked(arvik.arvik_talk_set_locale(talk, locale.encode(), None, c.byref(error)))
            locale = None
        for index in range(arvik.arvik_talk_tick(talk, 16_666_667, 0)):
            arvik.arvik_talk_event_at(talk, index, c.byref(event))
            kind, name = event.kind_name.decode(), event.name.decode()
            print(event.time_ns, "line", event.line, kind, *([name] if name else []))
        for index in range(arvik.arvik_talk_sounds(talk)):
            arvik.arvik_talk_sound(talk, index, c.byref(sound))
            print(now + sound.delay_ns, "sound", sound.kind_name.decode(), sound.name.decode(),
                  f"{sound.pitch:.4f} st {sound.gain:.2f} dB")
        now += 16_666_667
    arvik.arvik_talk_destroy(talk)
    arvik.arvik_script_destroy(script)
    arvik.arvik_setter_destroy(setter)


main(*sys.argv[1:])
