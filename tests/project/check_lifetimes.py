"""Each case of tests/compile/lifetimes.cpp but the last would dangle and must not compile; the last does
the same right. Usage: check_lifetimes.py SOURCE_DIR CXX
"""
import concurrent.futures
import pathlib
import re
import subprocess
import sys


def compile_case(root, compiler, case):
    return subprocess.run([compiler, "-std=c++20", "-fsyntax-only", f"-I{root}/include", f"-D{case}",
                           root / "tests/compile/lifetimes.cpp"], capture_output=True, text=True)


def problem_of(root, compiler, case):
    result = compile_case(root, compiler, case)
    if case == "DONE_RIGHT":
        return result.stderr
    refused = re.search(r"deleted|cannot bind non-const|expects an l-value|no matching (function|constructor)", result.stderr)
    return "" if result.returncode and refused else f"{case} compiles, or fails for another reason:\n{result.stderr}"


def main(root, compiler):
    cases = re.findall(r"defined\((\w+)\)", (root / "tests/compile/lifetimes.cpp").read_text())
    with concurrent.futures.ThreadPoolExecutor(2) as pool:
        problems = [p for p in pool.map(lambda case: problem_of(root, compiler, case), cases) if p]
    print("\n".join(problems) or f"{len(cases)} cases")
    return 1 if problems or len(cases) < 10 else 0


sys.exit(main(pathlib.Path(sys.argv[1]), sys.argv[2]))
