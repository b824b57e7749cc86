"""Every public header compiles alone, and twice in a row. Usage: check_headers.py SOURCE_DIR CXX"""
import concurrent.futures
import pathlib
import subprocess
import sys


def compile_alone(header, include, compiler):
    unit = f"#include <arvik/{header.name}>\n" * 2
    language = ["-x", "c", "-std=c11"] if header.suffix == ".h" else ["-x", "c++", "-std=c++20"]
    result = subprocess.run([compiler, *language, "-Wall", "-Wextra", "-Wpedantic", "-Werror", "-fsyntax-only",
                             f"-I{include}", "-"], input=unit, text=True, capture_output=True)
    return f"{header.name}:\n{result.stderr}" if result.returncode else ""


def main(root, compiler):
    include = root / "include"
    headers = sorted((include / "arvik").glob("*.h*"))
    with concurrent.futures.ThreadPoolExecutor(2) as pool:
        problems = [p for p in pool.map(lambda h: compile_alone(h, include, compiler), headers) if p]
    print("\n".join(problems) or f"{len(headers)} headers compile alone")
    return 1 if problems or len(headers) < 20 else 0


sys.exit(main(pathlib.Path(sys.argv[1]), sys.argv[2]))
