"""The recorder against plain Python (X2) and against the oracle: the demo lesson, the corpus, generated programs."""

from __future__ import annotations

import sys
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from support import first_year, generated_async
from support.generated import programs
from support.generated_containers import container_programs
from support.judges import CORPUS, assert_agree, judge, photographs, plain, run
from support.runs import input_of

import eelgrass.lessons
from eelgrass.trace.files import recording_file

DEMO = Path(eelgrass.lessons.__file__).parent / "demo"
PROGRAMS = [
    DEMO / "gauge_report" / "gauge_report.py",
    DEMO / "crab_tags" / "crab_tags.py",
    DEMO / "ferry_list" / "ferry_list.py",
    *sorted(CORPUS.glob("*.py")),
    CORPUS / "two_modules" / "main.py",
    # The language of this version, and of those before.
    *(new for new in sorted(CORPUS.glob("newer/*.py")) if sys.version_info >= tuple(map(int, new.stem.split("_")[1:]))),
]
IDS = [program.stem for program in PROGRAMS]
assert len(PROGRAMS) > 60


@pytest.mark.parametrize("program", PROGRAMS, ids=IDS)
def test_a_recorded_program_does_what_a_plain_one_does_and_the_oracle_agrees(program: Path, tmp_path: Path) -> None:
    typed = input_of(program)
    bare = plain(program, typed)
    command = [sys.executable, "-m", "eelgrass.cli", "record", "-o", str(tmp_path / "run.eelrec")]
    ours = run(command, program, typed)
    assert ours.stdout == bare.stdout
    assert ours.stderr == bare.stderr
    assert ours.returncode == bare.returncode
    assert bare.stdout, "a program that prints nothing shows nothing"
    # The oracle's own calls need room on the stack, so it reaches the end of it a few frames early.
    spare = 30 if program.stem == "endless_depth" else 0
    if program.stem in ("one_liners", "thread_turns"):
        return  # the oracle tells statements apart by their lines, and its threads take turns at any moment
    expected = photographs(program, tmp_path / "oracle.jsonl", typed)
    assert len(expected) > 5
    assert_agree(recording_file.load(tmp_path / "run.eelrec"), expected, spare)


@settings(max_examples=40, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))
@given(text=programs())
def test_generated_programs_agree_with_the_oracle(tmp_path: Path, text: str) -> None:
    judge(tmp_path / "generated.py", text)


@settings(max_examples=25, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))
@given(text=container_programs())
def test_generated_changes_of_containers_agree_with_the_oracle(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, text: str
) -> None:
    monkeypatch.setenv("PYTHONHASHSEED", "0")  # so that sets of text have the same order in each process
    judge(tmp_path / "generated.py", text)


@pytest.mark.parametrize("tens", range(6))
def test_first_year_programs_are_recorded_as_they_run(
    tens: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("PYTHONHASHSEED", "0")
    for seed in range(10 * tens, 10 * tens + 10):
        first_year.judge(seed, tmp_path)


@pytest.mark.parametrize("tens", range(3))
def test_generated_coroutines_that_take_turns_agree_with_the_oracle(tens: int, tmp_path: Path) -> None:
    for seed in range(10 * tens, 10 * tens + 10):
        judge(tmp_path / "generated.py", generated_async.program(seed))
