"""Programs run by another Python than Eelgrass's own: each version that is on this machine."""

from __future__ import annotations

import os
import re
import subprocess
import sys
from pathlib import Path

import pytest
from support.judges import CORPUS, run
from support.other_pythons import python_of

from eelgrass.runs.order import CannotRunError
from eelgrass.runs.pythons.interpreters import interpreter
from eelgrass.trace.files import recording_file

VERSIONS = ("3.12", "3.13", "3.14")
#: `EELGRASS_LONG` takes them all.
PROGRAMS = (
    *("async_tides", "comprehensions", "derived_containers", "exception_groups", "gen_delegates", "kept_ways"),
    *("lifetimes", "name_hiding", "threads", "try_finally", "uncaught", "endless_depth", "typed_input", "metaclasses"),
)
if "EELGRASS_LONG" in os.environ:
    PROGRAMS = tuple(program.stem for program in sorted(CORPUS.glob("*.py")) if program.stem != "thread_turns")


@pytest.mark.parametrize("version", VERSIONS)
def test_a_program_does_in_another_python_what_it_does_there_plainly(version: str, tmp_path: Path) -> None:
    python = python_of(version)
    for name in PROGRAMS:
        program = CORPUS / f"{name}.py"
        typed = program.with_suffix(".txt").read_bytes() if program.with_suffix(".txt").exists() else b""
        bare = run([str(python)], program, typed)
        command = [sys.executable, "-m", "eelgrass.cli", "record", "-o", str(tmp_path / "run.eelrec")]
        ours = run([*command, "--python", str(python)], program, typed)
        assert (ours.stdout, ours.stderr, ours.returncode) == (bare.stdout, bare.stderr, bare.returncode), name
        assert len(recording_file.load(tmp_path / "run.eelrec").steps) > 3  # without NumPy, little


def test_language_that_is_newer_than_ours_is_recorded(tmp_path: Path) -> None:
    python = python_of("3.12")
    program = tmp_path / "levels.py"
    program.write_text(
        "type Levels = list[int]\ndef first[T](its: list[T]) -> T:\n    return its[0]\nprint(first([7]))\n"
    )
    command = [sys.executable, "-m", "eelgrass.cli", "record", "-o", str(tmp_path / "run.eelrec"), "--python", python]
    done = subprocess.run([*command, program], capture_output=True, check=True, text=True)
    assert done.stdout == "7\n"
    dump = [sys.executable, "-m", "eelgrass.cli", "dump", str(tmp_path / "run.eelrec")]
    rows = subprocess.run(dump, capture_output=True, check=True, text=True).stdout
    assert '"text": "<TypeAliasType' in rows
    assert '"function": "first"' in rows


@pytest.mark.parametrize(
    ("answer", "sentence"),
    [
        ('["cpython", [3, 10, 1], [], true, "", ""]', "is Python 3.10.1; programs can be recorded from Python 3.11 on"),
        ('["pypy", [3, 11, 1], [], true, "", ""]', "another kind of Python"),
        ('["cpython", [3, 14, 0], [], false, "", ""]', "free-threaded"),
        ("tide", "does not answer as a Python does"),
    ],
)
def test_what_cannot_run_programs_is_said_in_a_sentence(answer: str, sentence: str, tmp_path: Path) -> None:
    stand_in = tmp_path / "python3"
    stand_in.write_text(f"#!/bin/sh\necho '{answer}'\n")
    with pytest.raises(CannotRunError, match="cannot be started: Permission denied"):
        interpreter(stand_in)
    stand_in.chmod(0o755)
    with pytest.raises(CannotRunError, match=re.escape(sentence)):
        interpreter(stand_in)
    with pytest.raises(CannotRunError, match="There is no Python at"):
        interpreter(tmp_path / "nowhere")
