"""Every public header compiles alone, and twice in a row. Usage: check_headers.py SOURCE_DIR CXX

Headers that reach the same standard headers share those, precompiled: what one of them lacks, none of its
group has.
"""
import collections
import concurrent.futures
import pathlib
import re
import subprocess
import sys
import tempfile

OPTIONS = ["-Wall", "-Wextra", "-Wpedantic", "-Werror"]


def reached(header, include):
    """The headers of other libraries that a header includes, by itself or by way of the project's."""
    found, waiting, seen = set(), [header], set()
    while waiting:
        current = waiting.pop()
        if current in seen:
            continue
        seen.add(current)
        for name in re.findall(r'^#include [<"](.*?)[>"]', current.read_text(), re.M):
            own = include / name
            if own.exists():
                waiting.append(own)
            else:
                found.add(name)
    return frozenset(found)


def precompile(names, path, compiler):
    path.write_text("".join(f"#include <{name}>\n" for name in sorted(names)))
    subprocess.run([compiler, "-x", "c++-header", "-std=c++20", *OPTIONS, path, "-o", f"{path}.gch"], check=True)
    return ["-include", path]


def compile_alone(header, include, compiler, precompiled):
    unit = f"#include <arvik/{header.name}>\n" * 2
    language = ["-x", "c", "-std=c11"] if header.suffix == ".h" else ["-x", "c++", "-std=c++20"]
    result = subprocess.run([compiler, *precompiled, *language, *OPTIONS, "-fsyntax-only", f"-I{include}", "-"],
                            input=unit, text=True, capture_output=True)
    return f"{header.name}:\n{result.stderr}" if result.returncode else ""


def main(root, compiler):
    include = root / "include"
    groups = collections.defaultdict(list)
    for header in sorted((include / "arvik").glob("*.h*")):
        groups[reached(header, include)].append(header)
    with tempfile.TemporaryDirectory() as name, concurrent.futures.ThreadPoolExecutor(2) as pool:
        def check_group(numbered):
            number, (names, headers) = numbered
            precompiled = precompile(names, pathlib.Path(name) / f"{number}.hpp", compiler) if len(headers) > 2 else []
            return [compile_alone(header, include, compiler, precompiled) for header in headers]

        problems = [p for group in pool.map(check_group, enumerate(groups.items())) for p in group if p]
    count = sum(map(len, groups.values()))
    print("\n".join(problems) or f"{count} headers compile alone")
    return 1 if problems or count < 20 else 0


sys.exit(main(pathlib.Path(sys.argv[1]), sys.argv[2]))
