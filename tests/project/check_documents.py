"""Documents and comments say what is true: C++ in documents is the examples', links, pictures and cited
paths exist, and every diagnostic code and every tag is described. Usage: check_documents.py SOURCE_DIR
"""
import pathlib
import re
import subprocess
import sys


CITED = re.compile(r"(?<![\w/.*-])((?:include/arvik|src|tests|docs|tools|examples|scripts|schemas|fuzz|bench|demo|cmake)"
                   r"/[\w./-]*\w)(?![\w*{-])")


def broken_citations(root):
    """Paths of the project that stand in a comment or document and are not there."""
    names = subprocess.run(["git", "-C", root, "ls-files", "*.cpp", "*.hpp", "*.h", "*.c", "*.py", "*.cmake", "*.md",
                            "*CMakeLists.txt", "scripts/*"], capture_output=True, text=True, check=True).stdout.split()
    problems, count = [], 0
    for name in names:
        text = (root / name).read_text()
        if not name.endswith(".md"):
            text = "\n".join(row for row in text.splitlines() if re.match(r"\s*(//|#|\*|/\*)", row))
        for path in CITED.findall(text):
            count += 1
            if not (root / path).exists() and not (root / path.rstrip("s")).exists():
                problems.append(f"{name}: there is no {path}")
    return problems if count > 100 else [*problems, "check_documents: found too few cited paths"]


def main(root):
    problems = broken_citations(root)
    documents = [root / "README.md", root / "CHANGELOG.md", root / "CONTRIBUTING.md",
                 *sorted((root / "docs").glob("*.md"))]
    examples = {p.name: p.read_text() for p in root.glob("examples/**/*.cpp")}
    snippets = 0
    for document in documents:
        text = document.read_text()
        for code in re.findall(r"```cpp\n(.*?)```", text, re.S):
            snippets += 1
            if not any(code.strip() in example for example in examples.values()):
                problems.append(f"{document}: C++ that no example holds:\n{code}")
        for target in re.findall(r"\]\(([^)#:]+)(?:#[^)]*)?\)", text):
            if not (document.parent / target).exists():
                problems.append(f"{document}: broken link {target}")
    codes = re.findall(r'"([a-z0-9]+(?:-[a-z0-9]+)+)"',
                       (root / "src/base/diagnostic.cpp").read_text())
    described = (root / "docs/diagnostics.md").read_text()
    problems += [f"docs/diagnostics.md: {c} is missing" for c in codes if f"`{c}`" not in described]
    tags = re.findall(r'TagRow\{"(\w+)"', (root / "src/markup/tags.cpp").read_text())
    grammar = (root / "docs/markup.md").read_text()
    problems += [f"docs/markup.md: [{t}] is missing" for t in tags
                 if not re.search(rf"`\[{t}[ :\]]", grammar)]
    if len(codes) < 10 or len(tags) < 20 or snippets == 0:
        problems.append("check_documents: found too little to check")
    print("\n".join(problems) or f"{len(documents)} documents, {snippets} snippets, {len(codes)} codes")
    return 1 if problems else 0


sys.exit(main(pathlib.Path(sys.argv[1])))
