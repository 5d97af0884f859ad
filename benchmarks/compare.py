"""Two runs: how long they take to compare, in recordings of growing length; and whether differences are found where
they begin.

`planted PROGRAMS [FIRST]` judges generated first-year programs and the corpus of tests: a run against itself has no
difference; against that of a text with one other literal, the first one is at the statement with that literal.
"""

from __future__ import annotations

import ast
import importlib
import os
import random
import sys
import tempfile
import time
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np

from benchmarks.measure import machine
from benchmarks.trail import CORPUS, recorded_passes
from eelgrass.reading.comparing.alignment import Alignment
from eelgrass.reading.comparing.runs import compare
from eelgrass.reading.recording import Recording
from eelgrass.runs.order import CannotRunError, Order
from eelgrass.runs.run import Run

first_year = importlib.import_module("support.first_year")
changes = importlib.import_module("support.trail_judge").changes

CHANGES = 6
ROUNDS = 3


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
                assert found.differences
                times.append(time.perf_counter())
                samples.append(np.diff(times))
            told = " | ".join(f"{its:.2f}" for its in np.median(samples, axis=0))
            print(f"| {len(trace.steps):,} | {told} |", flush=True)


def recorded(text: str, typed: list[str], folder: Path) -> Recording:
    """A run of a text. Raises CannotRunError."""
    program = folder / "program.py"
    program.write_text(text)
    run = Run(Order(program, seed=1, max_steps=200_000, max_seconds=20))
    run.start()
    for line in typed:
        run.type_line(line)
    run.end_input()
    return Recording(run.wait())


def judged(its: tuple[str, str, list[str], int]) -> tuple[int, int, list[str]]:
    """(how many changes made a difference, how many were first found at their statement, the others) of a program; one
    that differs from itself is among the others."""
    name, text, typed, seed = its
    tried, right, wrong = 0, 0, []
    with tempfile.TemporaryDirectory() as folder:
        try:
            plain, again = (recorded(text, typed, Path(folder)) for _ in range(2))
        except CannotRunError:
            return 0, 0, []
        if Alignment(plain, again).differences:
            return 0, 0, [f"{name}: differs from itself"]
        tried_literals = [its for its in changes(text, random.Random(seed)) if not is_default(text, its.literal)]
        for change in tried_literals[:CHANGES]:
            try:
                found = Alignment(plain, recorded(change.text, typed, Path(folder))).differences
            except CannotRunError:
                continue
            if found:
                statement = plain.trace.statement_of(found[0].here) if found[0].here >= 0 else None
                line = change.literal.lineno
                is_right = statement is not None and line in range(statement.line, statement.end_line + 1)
                tried, right = tried + 1, right + is_right
                if not is_right:
                    wrong.append(f"{name}: line {line}, {ast.unparse(change.literal)}: {found[0]}")
    return tried, right, wrong


def is_default(text: str, literal: ast.Constant) -> bool:
    """Whether a literal stands where a function is defined, which matters where it is called."""
    return any(
        isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef)) and node.lineno == literal.lineno
        for node in ast.walk(ast.parse(text))
    )


def programs(count: int, first: int) -> Iterator[tuple[str, str, list[str], int]]:
    """(name, text, what is typed, number) of what is judged: threads take other turns each time."""
    for seed in range(first, first + count):
        its = first_year.program(seed)
        if not its.has_threads:
            yield f"program {seed}", its.text, its.typed.decode().splitlines(), seed
    for number, path in enumerate(sorted(CORPUS.glob("*.py"))):
        data = path.read_bytes()
        if b"thread" not in data and b"random" not in data and b"coding:" not in data:
            prepared = path.with_suffix(".txt")
            typed = prepared.read_text().splitlines() if prepared.exists() else []
            yield path.name, data.decode(), typed, number


def planted(count: int, first: int = 0) -> int:
    """Prints how often a change is found where it was made; 1 where that is less than 95 times of 100."""
    os.environ["PYTHONHASHSEED"] = "0"
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(judged, programs(count, first)))
    print("\n".join(its for _, _, wrong in found for its in wrong))
    tried, right = sum(its[0] for its in found), sum(its[1] for its in found)
    print(f"{len(found)} programs: {tried} changes that make a difference, {right} first found at their statement")
    return int(right < 0.95 * tried)


def main(arguments: list[str]) -> int:
    """Measures, or judges; gives an exit status."""
    if arguments[:1] == ["planted"]:
        return planted(*map(int, arguments[1:]))
    measure(arguments)
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
