"""What docs/shipping.md says of small ICU data: they are as small as it says, and the tests of the core pass
on them. Usage: check_icu_data.py SOURCE_DIR LIBRARY_TESTS
"""
import os
import pathlib
import subprocess
import sys
import tempfile

# Of the core, what reads ICU's data; nothing else of it does.
EVERYTHING = ("[#language_test],[#bidi_test],[#boundaries_test],[#pauses_test],[#rhythm_test],[#schedule_test],"
              "[#allocation_test]")
WITHOUT_DICTIONARIES = "[#boundaries_test],[#pauses_test],[#schedule_test]"
MOST = {"all": (3_500_000, EVERYTHING), "no_cjk": (1_300_000, WITHOUT_DICTIONARIES),
        "plain": (600_000, WITHOUT_DICTIONARIES)}


def main(source, tests):
    with tempfile.TemporaryDirectory() as name:
        out = pathlib.Path(name)
        subprocess.run([f"{source}/scripts/icu_data", out], check=True)
        for variant, (most, which) in MOST.items():
            library = next((out / variant).glob("libicudata.so.*"))
            size = next((out / variant).glob("icudt*.dat")).stat().st_size
            assert size < most, f"{variant}: {size} bytes"
            environment = {**os.environ, "LD_LIBRARY_PATH": str(library.parent)}
            used = subprocess.run(["ldd", tests], env=environment, capture_output=True, text=True, check=True).stdout
            assert str(library) in used, used
            result = subprocess.run([tests, "-#", "-w", "NoTests", which], env=environment, capture_output=True,
                                    text=True, cwd=source)
            assert result.returncode == 0, f"{variant}:\n{result.stdout[-4000:]}"
            print(f"{variant}: {size} bytes; {result.stdout.strip().splitlines()[-1]}")


main(*sys.argv[1:])
