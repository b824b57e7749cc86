"""Each line of tests/compile/lifetimes.cpp that is marked "refused" would dangle and must not compile; all
others must. Usage: check_lifetimes.py SOURCE_DIR CXX
"""
import pathlib
import re
import subprocess
import sys

REFUSED = re.compile(r"deleted|cannot bind non-const|expects an l-value|no matching (function|constructor)")


def compile_all(root, compiler, *options):
    """The errors in the file: by line, and all that the compiler says."""
    unlimited = "-ferror-limit=0" if "clang" in compiler else "-fmax-errors=0"
    result = subprocess.run([compiler, "-std=c++20", "-fsyntax-only", unlimited, f"-I{root}/include", *options,
                             root / "tests/compile/lifetimes.cpp"], capture_output=True, text=True)
    errors = {}
    for line, message in re.findall(r"lifetimes\.cpp:(\d+):\d+: error: (.*)", result.stderr):
        errors[int(line)] = errors.get(int(line), "") + message
    return errors, result


def main(root, compiler):
    rows = (root / "tests/compile/lifetimes.cpp").read_text().splitlines()
    marked = {number for number, row in enumerate(rows, 1) if row.endswith("// refused")}
    errors, said = compile_all(root, compiler, "-DDANGLING")
    problems = [f"line {n} compiles: {rows[n - 1].strip()}" for n in sorted(marked - errors.keys())]
    problems += [f"line {n} is refused for another reason: {message}" for n, message in sorted(errors.items())
                 if n not in marked or not REFUSED.search(message)]
    _, right = compile_all(root, compiler)
    if right.returncode != 0:
        problems.append(right.stderr)
    print("\n".join(problems) or f"{len(marked)} cases")
    return 1 if problems or len(marked) < 17 or said.returncode == 0 else 0


sys.exit(main(pathlib.Path(sys.argv[1]), sys.argv[2]))
