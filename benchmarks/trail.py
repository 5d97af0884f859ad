"""Trails: how long the first links take, in recordings of growing length; and whether trails are complete.

`complete PROGRAMS [FIRST]` judges generated first-year programs, in each of which ten literals are changed one at a
time: where another literal makes another value, it has to be in the trail of that value. `corpus` does so with
the corpus of tests.
"""

from __future__ import annotations

import importlib
import os
import sys
import tempfile
import time
import tokenize
from collections.abc import Callable, Sequence
from concurrent.futures import ProcessPoolExecutor
from itertools import islice
from pathlib import Path
from random import Random
from typing import Any

import numpy as np

from benchmarks.measure import machine
from eelgrass.errors import EelgrassError
from eelgrass.reading.recording import Recording
from eelgrass.reading.trails.origins import Origins
from eelgrass.reading.trails.sentences import Sentences
from eelgrass.reading.trails.trail import trail_of_output
from eelgrass.runs.order import Order
from eelgrass.runs.run import Run
from eelgrass.trace.model import Trace

sys.path.append(str(Path(__file__).parents[1] / "tests"))
runs = importlib.import_module("support.runs")
trail_judge = importlib.import_module("support.trail_judge")

ROUNDS = 5
LINKS = 20
CHANGES = 10
_PROGRAM = """\
def step(n, total):
    return (total + n * {factor}) % 1009
total, best, levels = 0, None, []
for n in range({passes}):
    total = step(n, total)
    if best is None or total > best:
        best = total
    elif total == 7:
        levels.append(n)
print(total, best, len(levels))
"""


def recorded_passes(steps: int, folder: Path, factor: int = 3) -> Trace:
    """A run of about so many steps: a loop with a call, decisions and a list."""
    program = folder / "steps.py"
    program.write_text(_PROGRAM.format(passes=steps // 7, factor=factor))
    run = Run(Order(program, max_steps=0))
    run.start()
    return run.wait()


def measure(steps: int, folder: Path) -> None:
    """One row: the first links of the trail of what is printed last."""
    trace = recorded_passes(steps, folder)
    samples = []
    for _ in range(ROUNDS):
        again = Recording(trace)
        again.prepare()
        begun = time.perf_counter()
        trail, sentences = trail_of_output(Origins(again), 0), Sentences(again)
        for number in islice(trail.walk(), LINKS):
            sentences.of(trail.links[number])
        samples.append((time.perf_counter() - begun) * 1000)
    print(f"| {len(trace.steps):,} | {np.median(samples):.0f} | {max(samples):.0f} |", flush=True)


def judged(seed: int) -> tuple[int, list[str]]:
    """What the judge says of one program."""
    with tempfile.TemporaryDirectory() as folder:
        found: tuple[int, list[str]] = trail_judge.judge(seed, Path(folder), CHANGES)
    return found


def judged_of_corpus(program: Path) -> tuple[int, list[str]]:
    """What the judge says of a program of the corpus."""
    typed = runs.lines_for(program)
    with tokenize.open(program) as file, tempfile.TemporaryDirectory() as folder:
        try:
            tried, left_out = trail_judge.judge_text(file.read(), typed, Path(folder), Random(2), CHANGES)
        except (EelgrassError, RuntimeError, OSError) as error:
            print(f"{program.name} is not judged: {error}", flush=True)
            return 0, []
    return tried, [f"{program.name}: {its}" for its in left_out]


def complete(judge: Callable[[Any], tuple[int, list[str]]], programs: Sequence[object]) -> int:
    """Prints what is missing in trails; gives how many there are."""
    os.environ["PYTHONHASHSEED"] = "0"
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(judge, programs))
    wrong = [its for _, left_out in found for its in left_out]
    print("\n".join(wrong))
    tried = sum(tried for tried, _ in found)
    print(f"{len(programs):,} programs: {tried:,} other values, {len(wrong)} not in their trails")
    return len(wrong)


def main(arguments: list[str]) -> int:
    """Measures, or judges; gives an exit status."""
    if arguments[:1] == ["complete"]:
        count, first = (*map(int, arguments[1:]), 0)[:2]
        return min(complete(judged, range(first, first + count)), 1)
    if arguments == ["corpus"]:
        return min(complete(judged_of_corpus, sorted(runs.CORPUS.glob("*.py"))), 1)
    print(f"{machine()}\n\n| steps | first {LINKS} links: median of {ROUNDS}, ms | worst, ms |\n|---|---|---|")
    with tempfile.TemporaryDirectory() as folder:
        for steps in map(int, arguments or ["62500", "250000", "1000000"]):
            measure(steps, Path(folder))
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
