"""Texts for translators go through other programs, a Qt one and those of the translate toolkit, and
come back the same; tables are read and written as Python does.

Usage: check_xliff.py SOURCE_DIR ARVIK
"""
import csv
import pathlib
import shutil
import subprocess
import sys
import tempfile


def run(*command, quiet=True):
    result = subprocess.run([str(word) for word in command], capture_output=True, text=True)
    assert result.returncode == 0, (command, result.stdout, result.stderr)
    assert not quiet or not result.stdout + result.stderr, (command, result.stdout, result.stderr)
    return result.stdout


def rows_of(path):
    with open(path, newline="", encoding="utf-8") as file:
        return list(csv.DictReader(file))


def texts_of(demo, locale):
    return {row["key"]: row[locale] for row in rows_of(demo / "tide_clock.strings.csv")}


def through_other_programs(arvik, demo, locale, out):
    """What each program makes of the file, and how it is imported."""
    script = demo / "tide_clock.script.json"
    # Elements: every program reads them without a word.
    plain = out / f"{locale}.xlf"
    run(arvik, "strings", "export", script, locale, "-o", plain)
    yield plain, []
    for program in (["lconvert", plain, "-o", out / "elements.ts"],
                    ["xliff2po", "--progress=none", plain, out / "elements.po"],
                    ["pofilter", "--progress=none", plain, out / "filtered.xlf"]):
        run(*program)
    # Placeholders: they come back through formats that know no elements at all.
    marked = out / f"{locale}_placeholders.xlf"
    run(arvik, "strings", "export", script, locale, "--placeholders", "-o", marked)
    yield marked, []
    run("lconvert", marked, "-o", out / "marked.ts")
    run("lconvert", out / "marked.ts", "-o", out / "from_ts.xlf")
    yield out / "from_ts.xlf", ["--placeholders"]
    run("xliff2po", "--progress=none", marked, out / "marked.po")
    run("po2xliff", "--progress=none", "-t", marked, out / "marked.po", out / "from_po.xlf")
    yield out / "from_po.xlf", ["--placeholders"]


def check_tables(arvik, out):
    """Tables of Python's csv module, and what is written for it."""
    rows = [["key", "en", "de", "#note"], ["a", 'He said "no", twice', "zwei\nZeilen", "; \t"],
            ["b", " blanks ", "", ""], ["ü", "x" * 5000, "[]", "'"]]
    script = out / "script.json"
    script.write_text('{"arvik_script": 1, "strings": "t.csv", "conversations": {"c": [{"id": "a"}]}}')
    for delimiter, mark, end in (",", "", "\r\n"), (";", "\ufeff", "\r\n"), ("\t", "", "\n"):
        with open(out / "t.csv", "w", newline="", encoding="utf-8") as file:
            file.write(mark)
            csv.writer(file, delimiter=delimiter, lineterminator=end).writerows(rows)
        units = out / "units.xlf"
        run(arvik, "strings", "export", script, "de", "-o", units)
        # One new translation, so that the table is written again.
        units.write_text(units.read_text().replace(
            "<source> blanks </source>", "<source> blanks </source><target> Leer </target>"))
        run(arvik, "strings", "import", script, units, quiet=False)
        written = (out / "t.csv").read_bytes().decode()
        assert written.startswith(mark) and end in written, written
        back = list(csv.reader(written.removeprefix("\ufeff").splitlines(keepends=True), delimiter=delimiter))
        want = [row[:4] for row in rows]
        want[2] = ["b", " blanks ", " Leer ", ""]
        assert [row[:4] for row in back] == want, back


def main(source, arvik):
    with tempfile.TemporaryDirectory() as name:
        out = pathlib.Path(name)
        check_tables(arvik, out)
        missing = [tool for tool in ("lconvert", "xliff2po", "pofilter", "po2xliff") if not shutil.which(tool)]
        if missing:
            print("not installed: " + ", ".join(missing))
            sys.exit(77)
        demo = out / "demo"
        shutil.copytree(pathlib.Path(source) / "demo", demo)
        table = demo / "tide_clock.strings.csv"
        original = table.read_bytes()
        ways = 0
        for locale in "pl", "de", "ja", "ar":
            wanted = texts_of(demo, locale)
            for path, options in through_other_programs(arvik, demo, locale, out):
                # Into a table that has lost them.
                rows = rows_of(table)
                for row in rows:
                    row[locale] = ""
                with open(table, "w", newline="", encoding="utf-8") as file:
                    writer = csv.DictWriter(file, rows[0].keys(), lineterminator="\n")
                    writer.writeheader()
                    writer.writerows(rows)
                run(arvik, "strings", "import", demo / "tide_clock.script.json", path, *options, quiet=False)
                found = texts_of(demo, locale)
                different = {key: (text, found[key]) for key, text in wanted.items() if found[key] != text}
                assert not different, (path.name, different)
                table.write_bytes(original)
                ways += 1
        print(f"{len(wanted)} texts in four languages came back the same, {ways} times")


main(*sys.argv[1:])
