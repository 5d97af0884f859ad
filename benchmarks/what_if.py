"""What-ifs over the corpus: with the value that was there the recording is the same; just after an assignment, it is
that of a text with another assignment."""

from __future__ import annotations

import importlib
import os
import shutil
import sys
import tempfile
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from random import Random

from eelgrass.reading.recording import Recording

ROOT = Path(__file__).parents[1]
sys.path.append(str(ROOT / "tests"))
judge = importlib.import_module("support.what_if_judge")

EACH = 6


def judged(program: Path) -> tuple[int, list[str]]:
    """How many what-ifs of a program were tried, and what went otherwise."""
    prepared = program.with_suffix(".txt")
    typed = prepared.read_text().splitlines() if prepared.exists() else []
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(shutil.copy(program, folder))
        recording = Recording(judge.recorded(copy, typed))
        if judge.rows(recording.trace) != judge.rows(judge.recorded(copy, typed)):
            print(f"{program.stem} is not judged: its threads take other turns each time", flush=True)
            return 0, []
        draw = Random(program.name)
        try:
            wrong = list(judge.unchanged(recording, draw, EACH)) + list(
                judge.rewritten(recording, copy, typed, draw, EACH)
            )
        except Exception as error:  # which says what is wrong as well
            wrong = [f"{type(error).__name__}: {error}"]
    return 2 * EACH, [f"{program.stem}: {its}" for its in wrong]


def main() -> int:
    """Prints what went otherwise; gives 1 if anything did."""
    os.environ["PYTHONHASHSEED"] = "0"
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(judged, sorted((ROOT / "tests" / "corpus").glob("*.py"))))
    wrong = [its for _, left in found for its in left]
    print("\n".join(wrong))
    print(f"{len(found)} programs, up to {sum(count for count, _ in found)} what-ifs: {len(wrong)} otherwise")
    return min(len(wrong), 1)


if __name__ == "__main__":
    sys.exit(main())
