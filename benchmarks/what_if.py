"""What-ifs over the corpus: with the value that was there the recording is the same; just after an assignment, it is
that of a text with another assignment. `generated PROGRAMS [FIRST]`: the same of generated first-year programs."""

from __future__ import annotations

import importlib
import os
import shutil
import sys
import tempfile
from collections.abc import Callable, Iterable
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from random import Random
from typing import Any

from eelgrass.reading.recording import Recording

sys.path.append(str(Path(__file__).parents[1] / "tests"))
first_year = importlib.import_module("support.first_year")
judge = importlib.import_module("support.what_if_judge")
runs = importlib.import_module("support.runs")

EACH = 6


def of_corpus(program: Path) -> tuple[int, list[str]]:
    """What the judge says of a program of the corpus."""
    with tempfile.TemporaryDirectory() as folder:
        return judged(Path(shutil.copy(program, folder)), runs.lines_for(program), program.stem)


def of_number(seed: int) -> tuple[int, list[str]]:
    """What the judge says of a generated program."""
    its = first_year.program(seed)
    with tempfile.TemporaryDirectory() as folder:
        program = Path(folder) / "program.py"
        program.write_text(its.text)
        return judged(program, its.typed.decode().splitlines(), f"program {seed}")


def judged(program: Path, typed: list[str], name: str) -> tuple[int, list[str]]:
    """How many what-ifs of a program were tried at most, and what went otherwise."""
    recording = Recording(judge.recorded(program, typed))
    if judge.rows(recording.trace) != judge.rows(judge.recorded(program, typed)):
        print(f"{name} is not judged: its threads take other turns each time", flush=True)
        return 0, []
    draw = Random(name)
    try:
        wrong = [
            *judge.unchanged(recording, draw, EACH),
            *judge.rewritten(recording, program, typed, draw, EACH),
        ]
    except Exception as error:  # which says what is wrong as well
        wrong = [f"{type(error).__name__}: {error}"]
    return 2 * EACH, [f"{name}: {its}" for its in wrong]


def told(judge_one: Callable[[Any], tuple[int, list[str]]], programs: Iterable[object]) -> int:
    """Prints what went otherwise; gives how many did."""
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(judge_one, programs))
    wrong = [its for _, left in found for its in left]
    print("\n".join(wrong))
    print(f"{len(found)} programs, up to {sum(count for count, _ in found)} what-ifs: {len(wrong)} otherwise")
    return len(wrong)


def main(arguments: list[str]) -> int:
    """Judges; gives 1 if anything went otherwise."""
    os.environ["PYTHONHASHSEED"] = "0"
    if arguments[:1] == ["generated"]:
        count, first = (*map(int, arguments[1:]), 0)[:2]
        return min(told(of_number, range(first, first + count)), 1)
    return min(told(of_corpus, sorted(runs.CORPUS.glob("*.py"))), 1)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
