"""The core keeps no changing state of its own and calls nothing that talks to the world.

Reads the symbol table of the core library with objdump. Usage: check_symbols.py LIBRARY
"""
import re
import subprocess
import sys

FORBIDDEN = re.compile(
    r"^(v?f?printf|puts|fputs|f?open|fwrite|write|abort|exit|getenv|setlocale|clock_gettime"
    r"|gettimeofday|time|rand|random|getrandom|_ZNSt6chrono\S*now\S*|_ZSt4(cout|cerr))$")
# GCC puts constant tables that hold addresses into .data.rel*; the loader fills them in.
CHANGEABLE = re.compile(r"^\.(data|bss|tdata|tbss)(?!\.rel)")
# What compilers and sanitizers put there for themselves.
COMPILERS = re.compile(r"__asan|__ubsan|__sanitizer|asan\.|__odr|^\.L|__unnamed_|^DW\.ref\.|^\.data|^\.bss")

# constexpr, but clang 14 puts what has a destructor into .data.
CONSTANT = {"_ZZN5arvik10SharedPace8standardEvE4pace"}


def main(library):
    listing = subprocess.run(["objdump", "-t", library], capture_output=True, text=True, check=True)
    problems, symbols = [], 0
    for row in listing.stdout.splitlines():
        match = re.match(r"^[0-9a-f]{16} (.{7}) (\S+)\t[0-9a-f]{16} (.+)$", row)
        if not match:
            continue
        flags, section, name = match.groups()
        name = name.removeprefix(".hidden ")
        symbols += 1
        if COMPILERS.search(name) or name in CONSTANT or "d" in flags:
            continue
        if CHANGEABLE.match(section):
            problems.append(f"changeable global: {name} in {section}")
        if section == "*UND*" and FORBIDDEN.match(name):
            problems.append(f"calls {name}")
    print("\n".join(problems) or f"{symbols} symbols: nothing changeable, nothing that talks")
    return 1 if problems or symbols < 100 else 0


sys.exit(main(sys.argv[1]))
