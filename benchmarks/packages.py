"""Packages by others as a judge: their own tests bare and recorded, package and tests instrumented, test by test.

Their source archives come from PyPI when this runs, by name and version; nothing of them is kept.
"""

from __future__ import annotations

import os
import re
import subprocess
import sys
import tarfile
import tempfile
from pathlib import Path

from benchmarks.test_by_test import Verdict, differences, judged
from eelgrass.trace.files import recording_file

TIMEOUT_SECONDS = 1_800
PACKAGES = (
    *("addict==2.4.0", "boltons==26.2.0", "cachetools==8.0.2", "first==2.0.2", "funcy==2.1", "humanize==4.17.0"),
    *("inflection==0.5.1", "itsdangerous==2.2.0", "lark==1.3.1", "markdown==3.11.3"),
    *("mistune==3.4.0", "munch==4.0.0", "parse==1.22.4", "pyrsistent==0.20.0", "python-slugify==9.2.0"),
    *("schema==0.7.8", "simplejson==4.3.0", "six==1.17.0", "tabulate==0.10.0", "toolz==1.2.0"),
    *("voluptuous==0.16.0", "webcolors==25.10.0"),
)
#: The tests' own files are imported like any other, and nothing is left behind.
_PYTEST = ("pytest", "-v", "--assert=plain", "-pno:cacheprovider", "-oaddopts=", "--continue-on-collection-errors")
_RESULT = re.compile(r"^(\S+::.*?) (PASSED|FAILED|ERROR|SKIPPED|XFAIL|XPASS)\b")


def fetched(package: str, folder: Path) -> Path:
    """The folder of a package's unpacked source archive. Raises CalledProcessError when there is none."""
    command = [sys.executable, "-m", "pip", "download", "-q", "--no-deps", "--no-binary", ":all:", "-d", str(folder)]
    subprocess.run([*command, package], check=True, capture_output=True)
    archive = next(folder.glob("*.tar.gz"))
    with tarfile.open(archive) as file:
        file.extractall(folder, filter="data")
    return folder / archive.name.removesuffix(".tar.gz")


def outcome(command: list[str], folder: Path) -> dict[str, str]:
    """Each test's outcome, and under "(status)" how it ended."""
    path = os.pathsep.join(map(str, (folder, folder / "src", folder / "lib")))
    environment = {**os.environ, "PYTHONPATH": path, "PYTHONHASHSEED": "0", "PYTHONDONTWRITEBYTECODE": "1"}
    try:
        done = subprocess.run(
            command, cwd=folder, env=environment, capture_output=True, check=False, timeout=TIMEOUT_SECONDS
        )
    except subprocess.TimeoutExpired:
        return {"(status)": "no end in time"}
    lines = done.stdout.decode(errors="replace").splitlines()
    return {match[1]: match[2] for line in lines if (match := _RESULT.match(line))} | {"(status)": str(done.returncode)}


def judge(package: str) -> Verdict:
    """The verdict on a package, and on whether its recording opens."""
    with tempfile.TemporaryDirectory() as temporary:
        folder = fetched(package, Path(temporary))
        recording = Path(temporary) / "run.eelrec"
        record = ["-m", "eelgrass.cli", "record", "--max-steps", "0", "--max-output", "0", "-o", str(recording)]
        bare = outcome([sys.executable, "-m", *_PYTEST], folder)
        differing = differences(bare, outcome([sys.executable, *record, "-m", *_PYTEST], folder))
        try:
            steps = f"{len(recording_file.load(recording).steps):,} steps"
        except (recording_file.RecordingError, OSError) as error:
            steps = "no recording"
            differing.append(str(error))
    return Verdict(f"{package}, {steps}", len(bare) - 1, differing)


if __name__ == "__main__":
    sys.exit(min(judged(sys.argv[1:] or PACKAGES, judge, "packages"), 1))
