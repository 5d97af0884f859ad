"""Orders of turns: how long the search for what is planted takes, and what turns cost: `./bench orders [RUNS]`."""

from __future__ import annotations

import importlib
import statistics
import sys
import tempfile
import time
from pathlib import Path

from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.judging.wrong_orders import search
from eelgrass.runs.order import Order, Turns
from eelgrass.runs.run import Run

sys.path.append(str(Path(__file__).parents[1] / "tests"))
planted = importlib.import_module("support.wrong_orders").PROGRAMS
threaded = importlib.import_module("support.threaded").PROGRAMS


def searched(folder: Path, runs: int) -> None:
    """Prints, for each program, how many orders were tried and how long that took."""
    for name, text in planted.items():
        (folder / "program.py").write_text(text)
        took, tried = [], []
        for _ in range(runs):
            began = time.perf_counter()
            found = search(Order(folder / "program.py", seed=1), Case("usual"), 60)
            took.append(time.perf_counter() - began)
            tried.append(found.tried if found.turns is not None else -1)
        print(f"{name}: {min(tried)} to {max(tried)} orders, {min(took):.2f} to {max(took):.2f} s")


def turned(folder: Path, runs: int) -> None:
    """Prints how long the program's own seconds are with turns, in several orders, beside those without, in turn."""
    for name in ("a lock", "a queue", "recursion and generators"):
        (folder / "program.py").write_text(threaded[name].replace("range(4)", "range(40)").replace("400", "4000"))
        seconds: dict[str, list[float]] = {}
        for _ in range(runs):
            for which, turns in (("without", None), ("usual", Turns()), ("order 1", Turns(1)), ("order 2", Turns(2))):
                run = Run(Order(folder / "program.py", seed=1, turns=turns))
                run.start()
                seconds.setdefault(which, []).append(run.fed([]).outcome.seconds)
        plain = statistics.median(seconds["without"])
        told = ", ".join(f"{which} {statistics.median(its) / plain:.2f}" for which, its in seconds.items())
        print(f"{name}: {plain * 1000:.0f} ms without; times as long: {told}")


def main(runs: int = 5) -> None:
    """Both."""
    with tempfile.TemporaryDirectory() as folder:
        searched(Path(folder), runs)
        turned(Path(folder), runs)


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
