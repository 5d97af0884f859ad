"""Questions over a whole run: conditions at every visit, every change of an answer, the hits of breakpoints."""

from __future__ import annotations

import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

from benchmarks.measure import machine
from benchmarks.trace import recorded
from eelgrass.reading.breakpoints.breakpoint import Breakpoint, hits
from eelgrass.reading.expressions.batch import evaluated
from eelgrass.reading.expressions.expression import parse_expression
from eelgrass.reading.recording import Recording
from eelgrass.reading.watches import watch

ROUNDS = 5


def _row(what: str, goal_ms: float | None, work: Callable[[Recording], int], make: Callable[[], Recording]) -> None:
    """One row: the first time on a recording whose indexes stand, and the median of ROUNDS such."""
    samples, found = [], 0
    for _ in range(ROUNDS):
        recording = make()  # nothing is remembered from the time before
        begun = time.perf_counter()
        found = work(recording)
        samples.append((time.perf_counter() - begun) * 1000)
    goal = f"{goal_ms:g}" if goal_ms is not None else "–"
    print(f"| {what} | {found:,} | {np.median(samples):.1f} | {max(samples):.1f} | {goal} |", flush=True)


def main() -> None:
    """Measures a recording of about as many steps as the first argument says, or a million."""
    steps = int(sys.argv[1]) if len(sys.argv) > 1 else 1_000_000
    with tempfile.TemporaryDirectory() as folder:
        trace, _ = recorded("station", steps, Path(folder))
    file = trace.program.modules[0].file

    def make() -> Recording:
        recording = Recording(trace)
        recording.prepare()
        return recording

    def condition(recording: Recording) -> int:
        visits = recording.visits.of_line(0, 6)
        return int(
            (
                evaluated(trace, parse_expression("total > 9 and level < 3"), visits, trace.steps.frame[visits]).truth()
                > 0
            ).sum()
        )

    def everywhere(recording: Recording) -> int:
        stops = recording.stepping.stops
        return int(
            (
                evaluated(trace, parse_expression("total > 9 and level < 3"), stops, trace.steps.frame[stops]).truth()
                > 0
            ).sum()
        )

    def line(recording: Recording) -> int:
        return len(hits(recording, Breakpoint(file, 6)).steps)

    def written(recording: Recording) -> int:
        return len(hits(recording, Breakpoint(file, kind="write", name="history[3]", function="survey")).steps)

    def over(text: str) -> Callable[[Recording], int]:
        return lambda recording: len(watch.over(recording, parse_expression(text)))

    print(machine())
    print(f"{len(trace.steps):,} steps")
    print("| question | found | median ms | worst ms | goal ms |")
    print("|" + "---|" * 5)
    _row("a line breakpoint", 10, line, make)
    _row("a breakpoint on an element written", None, written, make)
    _row("condition on two local variables, at all visits of a line", 500, condition, make)
    _row("the same, at every stop of the run", 500, everywhere, make)
    _row("over the run, changes rarely: `days > 100`", 100, over("days > 100"), make)
    _row("over the run, asked at 30,000 writes: `day > 12000`", 100, over("day > 12000"), make)
    _row("over the run, changes often: `total > 9 and level < 3`", None, over("total > 9 and level < 3"), make)
    _row("over the run, about a growing list: `len(history) > 20`", None, over("len(history) > 20"), make)


if __name__ == "__main__":
    main()
