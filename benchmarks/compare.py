"""Two runs: how long they take to compare, in recordings of growing length; and whether differences are found where
they begin.

`planted PROGRAMS [FIRST]` judges generated first-year programs and the corpus of tests: a run against itself has no
difference; against that of a text with one other literal, the first one is at the statement with that literal.
`rewritten PROGRAMS [FIRST]` judges generated ones against texts that do the same: with other names, functions in
another order, prints of their own.
"""

from __future__ import annotations

import ast
import importlib
import os
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from random import Random
from typing import NamedTuple

import numpy as np

from benchmarks.measure import machine
from benchmarks.trail import recorded_passes
from eelgrass.reading.comparing.alignment import Alignment
from eelgrass.reading.comparing.differences import Apart, Kind, differences
from eelgrass.reading.comparing.runs import compare
from eelgrass.reading.recording import Recording
from eelgrass.runs.order import CannotRunError

first_year = importlib.import_module("support.first_year")
runs = importlib.import_module("support.runs")
rewritten = importlib.import_module("support.rewritten")
changes = importlib.import_module("support.trail_judge").changes

CHANGES = 6
ROUNDS = 3


class Program(NamedTuple):
    """What is judged, and the number by which chance draws for it."""

    name: str
    text: str
    typed: list[str]
    seed: int


class Judged(NamedTuple):
    """How many were tried, how many of them are as they should be, and the others in words."""

    tried: int
    right: int
    wrong: list[str]


def measure(arguments: list[str]) -> None:
    """Measures runs of about so many steps: the first difference of a run against itself, which is looked at to its
    end; all of two runs that differ in nearly every value."""
    print(f"{machine()}\n\n| steps of each | the first: median of {ROUNDS}, s | aligned, s | all that differs, s |")
    print("|---|---|---|---|", flush=True)
    with tempfile.TemporaryDirectory() as folder:
        for steps in map(int, arguments or ["62500", "250000", "1000000"]):
            trace, other = recorded_passes(steps, Path(folder)), recorded_passes(steps, Path(folder), factor=4)
            samples = []
            for _ in range(ROUNDS):
                times = []
                runs, different = (Recording(trace), Recording(trace)), (Recording(trace), Recording(other))
                times.append(time.perf_counter())
                assert compare(*runs).is_same
                times.append(time.perf_counter())
                found = Alignment(*different)
                times.append(time.perf_counter())
                assert differences(found)
                times.append(time.perf_counter())
                samples.append(np.diff(times))
            told = " | ".join(f"{its:.2f}" for its in np.median(samples, axis=0))
            print(f"| {len(trace.steps):,} | {told} |", flush=True)


def all_that_differs(plain: Recording, text: str, program: Program, folder: Path) -> list[Apart]:
    """A run against that of another text. Raises CannotRunError."""
    return differences(Alignment(plain, recorded(text, program, folder)))


def recorded(text: str, program: Program, folder: Path) -> Recording:
    """A run of a text, with what is typed into a program. Raises CannotRunError."""
    return Recording(runs.run_of_text(text, program.typed, folder, seed=1, max_steps=200_000, max_seconds=20))


def planted(program: Program) -> Judged:
    """Judges changes that make a difference, and a program against itself."""
    tried, right, wrong = 0, 0, []
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        try:
            plain = recorded(program.text, program, folder)
            if all_that_differs(plain, program.text, program, folder):
                return Judged(1, 0, [f"{program.name}: differs from itself"])
        except CannotRunError:
            return Judged(0, 0, [])
        drawn = changes(program.text, Random(program.seed))
        for change in [its for its in drawn if not rewritten.is_default(program.text, its.literal)][:CHANGES]:
            try:
                found = all_that_differs(plain, change.text, program, folder)
            except CannotRunError:
                continue
            if found:
                is_right = _is_at(plain, found[0], change.literal.lineno)
                tried, right = tried + 1, right + is_right
                if not is_right:
                    wrong.append(
                        f"{program.name}: line {change.literal.lineno}, {ast.unparse(change.literal)}: {found[0]}"
                    )
    return Judged(tried, right, wrong)


def _is_at(plain: Recording, apart: Apart, line: int) -> bool:
    statement = plain.trace.statement_of(apart.here) if apart.here >= 0 else None
    return statement is not None and line in range(statement.line, statement.end_line + 1)


def as_rewritten(program: Program) -> Judged:
    """Judges texts that do the same: none but the output may differ. (Prints of its own would leave less depth.)"""
    draw = Random(program.seed)
    others = {
        "renamed": rewritten.renamed(program.text),
        "moved": rewritten.moved(program.text, draw),
        "talking": rewritten.talking(program.text, draw),
    }
    wrong = []
    with tempfile.TemporaryDirectory() as name:
        plain = recorded(program.text, program, Path(name))
        for told, text in others.items():
            found = all_that_differs(plain, text, program, Path(name))
            wrong += [f"{program.name}, {told}: {its}" for its in found if its.kind != Kind.OUTPUT][:1]
    return Judged(len(others), len(others) - len(wrong), wrong)


def generated(count: int, first: int = 0) -> Iterator[Program]:
    """First-year programs without threads, which take other turns each time."""
    for seed in range(first, first + count):
        its = first_year.program(seed)
        if not its.has_threads:
            yield Program(f"program {seed}", its.text, its.typed.decode().splitlines(), seed)


def of_corpus() -> Iterator[Program]:
    """The corpus of tests, without threads and chance."""
    for number, path in enumerate(sorted(runs.CORPUS.glob("*.py"))):
        data = path.read_bytes()
        if b"thread" not in data and b"random" not in data and b"coding:" not in data:
            yield Program(path.name, data.decode(), runs.lines_for(path), number)


def told(what: str, judge: Callable[[Program], Judged], programs: Iterator[Program]) -> Judged:
    """Judges programs and prints what is found."""
    with ProcessPoolExecutor() as pool:
        each = list(pool.map(judge, programs))
    found = Judged(sum(its.tried for its in each), sum(its.right for its in each), [])
    print("\n".join(line for its in each for line in its.wrong))
    print(f"{what}: {len(each)} programs, {found.tried} judged, {found.right} right", flush=True)
    return found


def main(arguments: list[str]) -> int:
    """Measures, or judges; gives an exit status."""
    os.environ["PYTHONHASHSEED"] = "0"
    if arguments[:1] == ["planted"]:
        found = told("generated", planted, generated(*map(int, arguments[1:]))), told("corpus", planted, of_corpus())
        return int(sum(its.right for its in found) < 0.95 * sum(its.tried for its in found))
    if arguments[:1] == ["rewritten"]:
        shallow = (its for its in generated(*map(int, arguments[1:])) if "RecursionError" not in its.text)
        its = told("rewritten", as_rewritten, shallow)
        return int(its.right < its.tried)
    measure(arguments)
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
