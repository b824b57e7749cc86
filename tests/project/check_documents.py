"""Documents say what is true: their C++ is the examples', their links and pictures exist, and every
diagnostic code and every tag is described. Usage: check_documents.py SOURCE_DIR
"""
import pathlib
import re
import sys


def main(root):
    problems = []
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
