"""Every event of the demo script, with its time, from Python without a compiler: ctypes and the
shared library of the C interface.

Usage: demo_events.py LIBRARY SCRIPT
"""
import ctypes as c
import sys

NUL = c.c_size_t(-1).value


class Error(c.Structure):
    _fields_ = [("size", c.c_size_t), ("code", c.c_char * 32), ("message", c.c_char * 256),
                ("row", c.c_uint32), ("column", c.c_uint32)]


class TalkEvent(c.Structure):
    _fields_ = [("size", c.c_size_t), ("kind", c.c_char_p), ("time_ns", c.c_int64),
                ("line", c.c_uint32), ("skipped", c.c_int32), ("step", c.c_uint32),
                ("name", c.c_char_p)]


def declare(library):
    """Answers and arguments of the functions that are used, as in arvik.h."""
    for name, answer, *arguments in (
            ("abi_version", c.c_uint32),
            ("setter_create", c.c_void_p, c.c_char_p, c.POINTER(Error)),
            ("setter_destroy", None, c.c_void_p),
            ("setter_set_value", c.c_int32, c.c_void_p, c.c_char_p, c.c_char_p, c.c_size_t),
            ("talk_create", c.c_void_p, c.c_void_p, c.c_char_p, c.c_size_t, c.c_char_p, c.c_void_p,
             c.c_void_p, c.POINTER(Error)),
            ("talk_destroy", None, c.c_void_p),
            ("talk_configure", None, c.c_void_p, c.c_int64, c.c_int64, c.c_int32),
            ("talk_start", c.c_int32, c.c_void_p, c.POINTER(Error)),
            ("talk_tick", c.c_uint32, c.c_void_p, c.c_int64, c.c_uint32),
            ("talk_event_at", c.c_int32, c.c_void_p, c.c_uint32, c.POINTER(TalkEvent))):
        function = getattr(library, "arvik_" + name)
        function.restype, function.argtypes = answer, arguments


def main(path, script_path):
    arvik = c.CDLL(path)
    declare(arvik)
    if arvik.arvik_abi_version() != 1:
        sys.exit("the library has another ABI")
    error = Error(size=c.sizeof(Error))

    def checked(result):
        if not result:
            sys.exit(f"{error.message.decode()} ({error.code.decode()})")
        return result

    with open(script_path, "rb") as file:
        script = file.read()
    setter = checked(arvik.arvik_setter_create(b"en", c.byref(error)))
    arvik.arvik_setter_set_value(setter, b"keeper", b"Pell", NUL)
    talk = checked(arvik.arvik_talk_create(setter, script, len(script), None, None, None,
                                           c.byref(error)))
    arvik.arvik_talk_configure(talk, 0, 0, 1)
    checked(arvik.arvik_talk_start(talk, c.byref(error)))
    event, kind = TalkEvent(size=c.sizeof(TalkEvent)), ""
    while kind != "closed":
        for index in range(arvik.arvik_talk_tick(talk, 16_666_667, 0)):
            arvik.arvik_talk_event_at(talk, index, c.byref(event))
            kind, name = event.kind.decode(), event.name.decode()
            print(event.time_ns, "line", event.line, kind, *([name] if name else []))
    arvik.arvik_talk_destroy(talk)
    arvik.arvik_setter_destroy(setter)


main(*sys.argv[1:])
