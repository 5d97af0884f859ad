"""Generated first-year programs, or ones of coroutines that take turns: recorded, run plainly and photographed line by
line, any number of them."""

from __future__ import annotations

import importlib
import os
import sys
import tempfile
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

sys.path.append(str(Path(__file__).parents[1] / "tests"))
first_year = importlib.import_module("support.first_year")
generated_async = importlib.import_module("support.generated_async")
judges = importlib.import_module("support.judges")


def trouble(kind: str, seed: int) -> tuple[int, str]:
    """(seed, what differs; '' for nothing)."""
    with tempfile.TemporaryDirectory() as folder:
        try:
            if kind == "async":
                judges.judge(Path(folder) / "program.py", generated_async.program(seed))
            else:
                first_year.judge(seed, Path(folder))
        except Exception as error:  # whatever it is, the other programs are judged, too
            return seed, f"{type(error).__name__}: {str(error).strip()[:300]}"
    return seed, ""


def main(kind: str, count: int, first: int = 0) -> int:
    """Prints the seeds of programs that differ; gives their number."""
    os.environ["PYTHONHASHSEED"] = "0"  # so that sets of text have the same order in each process
    with ProcessPoolExecutor() as pool:
        wrong = [(seed, what) for seed, what in pool.map(partial(trouble, kind), range(first, first + count)) if what]
    for seed, what in wrong:
        print(f"{seed}: {what}")
    print(f"{count:,} {kind} programs from {first}: {len(wrong)} differ")
    return len(wrong)


if __name__ == "__main__":
    _, *given = sys.argv
    kind = given.pop(0) if given[0] == "async" else "first-year"
    sys.exit(min(main(kind, *map(int, given)), 1))
