"""The recording as data: memory and disk a step, the state on view, moves, loading, up to ten million steps."""

from __future__ import annotations

import random
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

from benchmarks.measure import STATION, machine, timed_ms
from eelgrass.reading.recording import Recording
from eelgrass.runs.order import Order
from eelgrass.runs.run import Run
from eelgrass.trace.files import recording_file
from eelgrass.trace.model import Trace

SIZES = (10_000, 100_000, 1_000_000, 10_000_000)
MOVES = 400

CRABS = """\
class Crab:
    def __init__(self, tag):
        self.tag = tag
        self.place = 0
        self.seen = []

    def move(self, by):
        self.place = self.place + by
        if self.place > 50:
            self.place = 0
            self.seen.append(by)
        return self.place


def shoots(seasons):
    if seasons < 2:
        return 1
    return shoots(seasons - 1) + shoots(seasons - 2)


crabs = [Crab("crab " + str(number)) for number in range(20)]
for tide in range({rounds}):
    for crab in crabs:
        crab.move(tide % 3)
    grown = shoots(5)
"""

#: name: (text, what it takes to make one step more, by its measure of length).
PROGRAMS: dict[str, tuple[Callable[[int], str], float]] = {
    "station": (lambda days: STATION.format(days=days), 1 / 26),
    "crabs": (lambda rounds: CRABS.format(rounds=rounds), 1 / 205),
}


def recorded(name: str, steps: int, folder: Path) -> tuple[Trace, float]:
    """(the recording of a program of about so many steps, seconds from its start to the first steps at hand)."""
    text, per_step = PROGRAMS[name]
    program = folder / f"{name}.py"
    program.write_text(text(max(int(steps * per_step), 1)))
    seen: list[float] = []

    def look(trace: Trace) -> None:
        Recording(trace).prepare()
        seen.append(time.perf_counter() - begun)

    run = Run(Order(program, max_steps=0), on_progress=look)
    begun = time.perf_counter()
    run.start()
    return run.wait(), seen[0]


def column_bytes(trace: Trace) -> int:
    """Bytes of all columns, and of the texts and values beside them."""
    columns = sum(int(getattr(getattr(trace, group), column).nbytes) for group, column, _ in recording_file.COLUMNS)
    return columns + sum(map(sys.getsizeof, (*trace.values.texts, *trace.texts.pieces)))


def index_bytes(recording: Recording) -> int:
    """Bytes of the indexes that answering needs, after they have been made."""
    _ = recording.timeline.deepest, recording.changes.of_statement(0)
    its = [
        recording.trace.histories,
        recording.trace.stretches,
        recording.stepping,
        recording.visits,
        recording.timeline,
    ]
    arrays: dict[int, int] = {}
    waiting: list[object] = [vars(one) for one in its]
    while waiting:
        one = waiting.pop()
        if isinstance(one, np.ndarray):
            whole = one if one.base is None else one.base
            arrays[id(whole)] = getattr(whole, "nbytes", 0)
        elif isinstance(one, (list, tuple)) and len(one) < 10_000:
            waiting += one
        elif isinstance(one, dict):
            waiting += one.values()
    columns = [getattr(getattr(recording.trace, group), column) for group, column, _ in recording_file.COLUMNS]
    own = {id(column if column.base is None else column.base) for column in [*columns, recording.trace.slots.when]}
    return sum(size for key, size in arrays.items() if key not in own)


def nearly_all(samples: list[float]) -> float:
    """The 99th percentile."""
    return float(np.percentile(samples, 99))


def measure(name: str, size: int, folder: Path) -> None:
    """Prints one row for a program at a size."""
    trace, first = recorded(name, size, folder)
    steps = len(trace.steps)
    path = folder / f"{name}.eelrec"
    saving = timed_ms(lambda: recording_file.save(trace, path))
    loading = min(timed_ms(lambda: recording_file.load(path)) for _ in range(3 if size < 5_000_000 else 1))
    recording = Recording(trace)
    indexing = timed_ms(recording.prepare)
    choose = random.Random(8)
    places = recording.stepping
    state = [timed_ms(lambda: recording.stack_rows.at(choose.randrange(steps))) for _ in range(MOVES)]
    moves = {}
    for move in (
        places.next_line,
        places.previous_line,
        places.into,
        places.out,
        places.call_of,
        places.next_any,
        places.previous_any,
    ):
        move(0)  # makes its index
        moves[move.__name__] = nearly_all(
            [timed_ms(lambda move=move: move(choose.randrange(steps))) for _ in range(MOVES)]  # type: ignore[misc]
        )
    slowest = max(moves, key=lambda name: moves[name])
    print(
        f"| {name} | {steps:,} | {column_bytes(trace) / steps:.1f} | {index_bytes(recording) / steps:.1f} | "
        f"{path.stat().st_size / steps:.2f} | {np.median(state):.2f} | {nearly_all(state):.2f} | "
        f"{moves[slowest]:.3f} ({slowest}) | {indexing:.0f} | {saving:.0f} | {loading:.0f} | {first * 1000:.0f} |",
        flush=True,
    )


def main() -> None:
    """Measures the sizes given as arguments (steps), or all of them."""
    print(machine())
    print(
        "| program | steps | columns, bytes a step | indexes, bytes a step | disk, bytes a step | "
        "state on view, median ms | 99th percentile | slowest move, 99th percentile, ms | "
        "indexes, ms | save, ms | load, ms | first steps after, ms |"
    )
    print("|" + "---|" * 12)
    for size in [int(argument) for argument in sys.argv[1:]] or SIZES:
        for name in PROGRAMS:
            with tempfile.TemporaryDirectory() as folder:
                measure(name, size, Path(folder))


if __name__ == "__main__":
    main()
