"""Programs with threads, recorded again and again: `./bench threaded [RUNS]`."""

from __future__ import annotations

import importlib
import os
import sys
import tempfile
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

sys.path.append(str(Path(__file__).parents[1] / "tests"))
threaded = importlib.import_module("support.threaded")


def judged(runs: int, name: str) -> list[str]:
    """What was otherwise in so many runs of a program."""
    wrong = []
    with tempfile.TemporaryDirectory() as folder:
        expected = threaded.told_by_oracle(name, Path(folder))
        for number in range(runs):
            try:
                threaded.judge(name, Path(folder), expected)
            except Exception as error:  # whatever it is, the other runs are judged, too
                wrong.append(f"{name}, run {number}: {type(error).__name__}: {str(error)[:200]}")
    return wrong


def main(runs: int = 100) -> int:
    """Prints what was otherwise; gives how often."""
    os.environ["PYTHONHASHSEED"] = "0"
    with ProcessPoolExecutor() as pool:
        wrong = [its for each in pool.map(partial(judged, runs), threaded.PROGRAMS) for its in each]
    print("\n".join(wrong))
    print(f"{len(threaded.PROGRAMS)} programs, {runs} runs each: {len(wrong)} otherwise")
    return len(wrong)


if __name__ == "__main__":
    sys.exit(min(main(*map(int, sys.argv[1:])), 1))
