"""Installed, the libraries are found and used as games do it, static and shared.

Usage: check_install.py SOURCE_DIR BUILD_DIR
"""
import gzip
import os
import pathlib
import re
import subprocess
import sys
import tempfile

COMPONENTS = ["script", "fonts", "audio", "draw", "check", "c"]
# Of inner namespaces, what another library of the project uses.
SHARED = re.compile(r"decode_any|find_decomposed|has_composed|digit_value|case_of|small_letter|unicode::asks|is_spoken|bare_letter|NameChecker")
LINE = "1200 ms"
ALL = LINE + "".join(f" {name} 0" for name in COMPONENTS)


def run(*command, **options):
    result = subprocess.run([str(word) for word in command], capture_output=True, text=True, **options)
    if result.returncode != 0:
        sys.exit(f"{' '.join(map(str, command))}\nfailed:\n{result.stdout[-4000:]}{result.stderr[-4000:]}")
    return result.stdout


def expect(found, wanted, what):
    if found.strip() != wanted:
        sys.exit(f"{what}: said {found!r}, not {wanted!r}")


def with_package(source, prefix, folder):
    run("cmake", "-S", source / "tests/consumer", "-B", folder, f"-DCMAKE_PREFIX_PATH={prefix}",
        f"-DCOMPONENTS={';'.join(COMPONENTS)}")
    run("cmake", "--build", folder)
    expect(run(folder / "consumer"), ALL, f"find_package, {prefix.name}")


def with_pkg_config(source, prefix, folder):
    environment = {**os.environ, "PKG_CONFIG_PATH": str(next(prefix.glob("**/pkgconfig")))}
    modules = ["arvik-core", *(f"arvik-{name}" for name in COMPONENTS)]
    how = ["--static"] if prefix.name == "static" else []
    flags = run("pkg-config", "--cflags", "--libs", *how, *modules, env=environment).split()
    library_folder = next(prefix.glob("**/pkgconfig")).parent
    program = folder / f"by_pkg_config_{prefix.name}"
    defines = [f"-DWITH_{name}" for name in COMPONENTS]
    run("c++", "-std=c++20", source / "tests/consumer/main.cpp", *defines, "-o", program, *flags,
        f"-Wl,-rpath,{library_folder}")
    expect(run(program), ALL, f"pkg-config, {prefix.name}")
    return library_folder


def check_symbols(library_folder):
    """What a shared library exports is the API, and it has a version."""
    libraries = sorted(library_folder.glob("libarvik_*.so"))
    assert len(libraries) == len(COMPONENTS) + 1, libraries
    for library in libraries:
        assert re.search(r"SONAME.*\.so\.0\]", run("readelf", "-d", library)), library
        exported = [row.split(maxsplit=2)[2] for row in
                    run("nm", "-D", "-C", "--defined-only", library).splitlines()]
        strong = [row.split(maxsplit=2)[2] for row in
                  run("nm", "-D", "-C", "--defined-only", library).splitlines() if " T " in row]
        assert strong, library
        for name in exported:
            inner = re.match(r"arvik::(unicode|pacing|script|draw|audio|base|conversation|markup)::", name)
            assert not inner or SHARED.search(name), f"{library.name} exports {name}"
        for name in strong:
            assert re.match(r"(non-virtual thunk to )?arvik(::|_)|.*\barvik::", name), \
                f"{library.name} exports {name}"


def in_tree(source, folder):
    """As a part of a game's own tree: the core alone, which needs ICU and the standard library, and
    neither exceptions nor run-time type information, as many games build."""
    run("cmake", "-S", source / "tests/consumer", "-B", folder, f"-DARVIK_SOURCE={source}",
        "-DBUILD_SHARED_LIBS=ON", "-DCMAKE_UNITY_BUILD=ON",
        "-DCMAKE_UNITY_BUILD_BATCH_SIZE=16", "-DCMAKE_CXX_FLAGS=-fno-exceptions -fno-rtti")
    run("cmake", "--build", folder, "-j2")
    fetched = folder.with_name("fetched")
    run("cmake", "-S", source / "tests/consumer", "-B", fetched, f"-DARVIK_SOURCE={source}", "-DFETCH=ON")
    targets = run("cmake", "--build", fetched, "--target", "help")
    assert "arvik_core" in targets and "arvik_tool" not in targets, targets
    expect(run(folder / "consumer"), LINE, "add_subdirectory")
    needed = re.findall(r"NEEDED.*\[(.*)\]", run("readelf", "-d", folder / "arvik/libarvik_core.so"))
    allowed = r"(libicuuc|libicui18n|libstdc\+\+|libm|libgcc_s|libc|ld-linux.*)\.so.*"
    assert "libicuuc.so.72" in needed or any("icuuc" in n for n in needed), needed
    assert all(re.fullmatch(allowed, name) for name in needed), needed
    dependants = run("ldd", folder / "arvik/libarvik_core.so")
    assert not re.search(r"cairo|harfbuzz|sndfile|freetype", dependants), dependants


def check_rooms_left_out(source, folder):
    """A room that is left out takes along what is built on it, and says so."""
    for room, built in {"AUDIO": "core, script, fonts, draw, check, c, examples",
                        "FONTS": "core, script, audio, c, examples",
                        "SCRIPT": "core, fonts, audio, draw, examples"}.items():
        said = run("cmake", "-S", source, "-B", folder / room, f"-DARVIK_BUILD_{room}=OFF")
        assert f"Arvik builds: {built}\n" in said, said


def check_tool(prefix):
    assert run(prefix / "bin/arvik", "--version").startswith("arvik 0."), "no tool"
    share = prefix / "share"
    pages = {page.name for page in (share / "man/man1").iterdir()}
    assert {"arvik.1.gz", "arvik-mix.1.gz", "arvik-play.1.gz"} <= pages, pages
    assert "mix" in gzip.open(share / "man/man1/arvik.1.gz", "rt").read()
    assert len(list((share / "arvik/schemas").glob("*.schema.json"))) >= 4
    completion = share / "bash-completion/completions/arvik"
    script = f"""
        PATH={prefix}/bin:$PATH; source {completion}
        COMP_WORDS=(arvik re); COMP_CWORD=1; _arvik; echo "${{COMPREPLY[@]}}"
        COMP_WORDS=(arvik mix --ty); COMP_CWORD=2; _arvik; echo "${{COMPREPLY[@]}}"
        COMP_WORDS=(arvik strings ex); COMP_CWORD=2; _arvik; echo "${{COMPREPLY[@]}}" """
    expect(run("bash", "-c", script), "reveal\n--typing\nexport", "completion")


def check_missing(prefix, folder):
    """What cannot be had is NOT FOUND, with a reason, and never a fatal error."""
    cases = {
        "COMPONENTS script": ({"PKG_CONFIG_LIBDIR": "/nowhere"},
                              "component script needs the pkg-config module pugixml"),
        "COMPONENTS core scripts": ({}, "there is no component scripts (there are: audio, c, check, core"),
        "COMPONENTS core": ({"PKG_CONFIG_LIBDIR": "/nowhere"}, "component core needs the pkg-config module icu-uc"),
    }
    for request, (environment, reason) in cases.items():
        folder.mkdir(exist_ok=True)
        (folder / "CMakeLists.txt").write_text(f"""
            cmake_minimum_required(VERSION 3.25)
            project(missing LANGUAGES CXX)
            find_package(Arvik QUIET CONFIG {request})
            if(Arvik_FOUND)
              message(FATAL_ERROR "found")
            endif()
            message(STATUS "reason: ${{Arvik_NOT_FOUND_MESSAGE}}")""")
        said = run("cmake", "-S", folder, "-B", folder / "build", "--fresh", f"-DCMAKE_PREFIX_PATH={prefix}",
                   env={**os.environ, **environment})
        assert reason in said, said


def check_links(documents):
    """Every link of the installed documents leads to something."""
    count = 0
    for page in [*documents.glob("*.md"), *documents.glob("docs/*.md")]:
        for target in re.findall(r"\]\(([^)#:]+)(?:#[^)]*)?\)", page.read_text()):
            count += 1
            assert (page.parent / target).exists(), f"{page}: {target}"
    assert count > 30, count


def check_deb(source, build, folder):
    """Packages without an error, installed into an empty tree, are what it takes to build and run."""
    run("cpack", "--config", build / "CPackConfig.cmake", "-G", "DEB", "-B", folder, cwd=folder)
    packages = sorted(folder.glob("*.deb"), key=lambda path: path.name.split("_")[0])
    names = [package.name.split("_")[0] for package in packages]
    assert names == ["arvik", "arvik-doc", "libarvik-dev", "libarvik0"], names
    for package in packages:
        said = subprocess.run(["lintian", "--allow-root", package], capture_output=True, text=True)
        errors = [row for row in said.stdout.splitlines() if row.startswith("E:")]
        assert not errors and not said.stderr, (errors, said.stderr)
    # An empty tree that knows which packages this machine has, so that dependencies are looked at.
    tree = folder / "tree"
    (tree / "var/lib/dpkg").mkdir(parents=True)
    (tree / "var/lib/dpkg/info").mkdir()
    (tree / "var/lib/dpkg/updates").mkdir()
    (tree / "var/lib/dpkg/status").write_text(pathlib.Path("/var/lib/dpkg/status").read_text())
    run("dpkg", f"--root={tree}", "--force-not-root", "--force-script-chrootless", "--no-triggers",
        "--log=/dev/null", "-i", *packages)
    check_links(tree / "usr/share/doc/arvik-doc")
    libraries = next(tree.glob("usr/lib/**/libarvik_core.so")).parent
    environment = {**os.environ, "LD_LIBRARY_PATH": str(libraries)}
    assert run(tree / "usr/bin/arvik", "schedule", "--format", "csv", "Hi.", env=environment).count("step,") >= 3
    consumer = folder / "consumer_deb"
    run("cmake", "-S", source / "tests/consumer", "-B", consumer, f"-DCMAKE_PREFIX_PATH={tree}/usr",
        f"-DCOMPONENTS={';'.join(COMPONENTS)}")
    run("cmake", "--build", consumer)
    expect(run(consumer / "consumer", env=environment), ALL, "Debian packages")


def main(source, build):
    with tempfile.TemporaryDirectory() as name:
        folder = pathlib.Path(name)
        static = folder / "static"
        run("cmake", "--install", build, "--prefix", static)
        with_package(source, static, folder / "consumer_static")
        with_pkg_config(source, static, folder)
        check_tool(static)
        shared = folder / "shared"
        # Beside the build that is looked at, which the compiler cache needs to tell that it is the same.
        shared_build = build.parent / f"{build.name}_shared"
        # As the preset dev compiles, so that a compiler cache has most of it.
        run("cmake", "--preset", "dev", "-B", shared_build, "-DBUILD_SHARED_LIBS=ON", "-DARVIK_BUILD_TESTS=OFF",
            "-DARVIK_BUILD_EXAMPLES=OFF", f"-DCMAKE_INSTALL_PREFIX={shared}", cwd=source)
        run("cmake", "--build", shared_build)
        run("cmake", "--install", shared_build)
        with_package(source, shared, folder / "consumer_shared")
        check_symbols(with_pkg_config(source, shared, folder))
        in_tree(source, folder / "in_tree")
        check_rooms_left_out(source, folder)
        check_missing(static, folder / "missing")
        deb = folder / "deb"
        deb.mkdir()
        check_deb(source, shared_build, deb)
    print("found by find_package, pkg-config and add_subdirectory, static and shared; packaged")


main(pathlib.Path(sys.argv[1]).resolve(), pathlib.Path(sys.argv[2]).resolve())
