"""The recorder's tests whole, and generated programs, in every supported Python that is on the machine; and in 3.14
from a root of Debian's unstable, which is made where that version is not here (as root, some minutes, 400 MB)."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[1]
UNSTABLE = ROOT / "build" / "unstable"
_PACKAGES = "python3,python3-venv,python3-dev,libpython3-testsuite,gcc,libc6-dev,ca-certificates"
_MIRROR = "http://deb.debian.org/debian"


def run(*command: str | Path, **more: str) -> int:
    """The exit status of a command in the project's folder; `more` are variables for it."""
    return subprocess.run([*map(str, command)], cwd=ROOT, env={**os.environ, **more}, check=False).returncode


def setup(calls: str) -> str:
    """What functions of `scripts/setup.sh` print; an empty text where they fail."""
    command = ["bash", "-c", f"source scripts/setup.sh >&2; {calls}"]
    return subprocess.run(command, cwd=ROOT, stdout=subprocess.PIPE, text=True, check=False).stdout.strip()


def unstable_python() -> Path | None:
    """The Python of Debian's unstable, made to run outside of its root; None where that cannot be."""
    python = UNSTABLE / "usr" / "bin" / "python3.14"
    if not python.exists():
        if os.geteuid() or not all(map(shutil.which, ("debootstrap", "patchelf"))):
            return None
        made = run("debootstrap", "--variant=minbase", f"--include={_PACKAGES}", "sid", UNSTABLE, _MIRROR)
        if made or not python.exists():
            return None
    libraries = UNSTABLE / "usr" / "lib" / "x86_64-linux-gnu"
    loader = UNSTABLE / "usr" / "lib64" / "ld-linux-x86-64.so.2"
    run("patchelf", "--set-interpreter", loader, "--set-rpath", libraries, "--force-rpath", python)
    return python


def without_pip(place: Path, python: Path) -> None:
    """An environment by a Python whose own way of getting pip leads out of its root."""
    if not (place / "bin" / "pip").exists():
        wheel = next((UNSTABLE / "usr" / "share" / "python-wheels").glob("pip-*.whl"))
        run(python, "-m", "venv", "--without-pip", place)
        run(place / "bin" / "python", "-m", "pip", "install", "-q", wheel, PYTHONPATH=str(wheel))


def environments() -> Iterator[tuple[str, Path]]:
    """(version, the Python of its environment), for each that can be had; says which cannot."""
    for version in setup('echo "${versions[@]}"').split():
        found, place = setup(f"python_of {version}"), Path(".venv") / f"core-{version}"
        if not found and version == "3.14" and (python := unstable_python()) is not None:
            found = str(python)
            without_pip(ROOT / place, python)
        if not found:
            print(f"Python {version}: not here", flush=True)
            continue
        setup(f"make_core_environment {place} {found} >&2; compile_hooks {place}/bin/python ' for {version}' >&2")
        yield version, ROOT / place / "bin" / "python"


def main(count: int, cpython: bool) -> int:
    """Judges each version by the recorder's tests, the corpus run by it with `--python`, so many generated programs
    and, if wanted, a third of CPython's own tests of that version (an hour or so each); gives how many versions fail
    one of the first three."""
    wrong = 0
    for version, python in environments():
        chosen = {"EELGRASS_PYTHON": str(python)}
        pytest = ("-m", "pytest", "-c", "tests/core.ini", "--rootdir", ".", "-n", "auto", "tests/recorder")
        tests = run(python, *pytest, **chosen)
        programs = run(python, "-m", "benchmarks.generated", str(count), **chosen) if count else 0
        by_ours = ("-m", "pytest", "-n", "auto", "tests/runs/test_other_pythons.py", "-k", version)
        tests |= run(ROOT / ".venv" / "bin" / "python", *by_ours, EELGRASS_LONG="1")
        said = f"tests {'fail' if tests else 'pass'}, {count} programs {'differ' if programs else 'alike'}"
        print(f"Python {version}: {said}", flush=True)
        if cpython:
            run(python, "-m", "benchmarks.fidelity", "third", **chosen)
        wrong += bool(tests or programs)
    return wrong


if __name__ == "__main__":
    numbers = [int(its) for its in sys.argv[1:] if its.isdecimal()]
    sys.exit(min(main(numbers[0] if numbers else 500, "cpython" in sys.argv), 1))
