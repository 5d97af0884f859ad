"""Clues: what is found in programs with a usual mistake and what is said of sound ones, by kind; and how long it takes.

`./bench clues` prints the tables of `docs/clues.md`, then times over growing runs."""

from __future__ import annotations

import importlib
import statistics
import sys
import tempfile
from collections.abc import Iterable
from pathlib import Path
from typing import Any

from benchmarks.measure import machine, timed_ms
from eelgrass import lessons
from eelgrass.reading.clues.catalogue import families
from eelgrass.reading.clues.finding import find_clues
from eelgrass.reading.recording import Recording
from eelgrass.runs.order import Order
from eelgrass.runs.run import Run

sys.path.insert(0, str(Path(__file__).parents[1] / "tests"))
programs = importlib.import_module("support.clue_programs")
mistakes = importlib.import_module("support.mistakes")

_TUNED, _LOOKED_AT = "tuned", ("held_out", "second_look", "third_look")
_TIMES = 3
_MOST_STEPS = 3_000_000
#: Programs of which each is run for a number of passes; so many make about a hundred thousand steps. One that has no
#: `N` does not end, and is stopped after so many steps.
LONG = {
    "a survey (calls, lists, dictionaries)": (
        """\
def mean(values):
    total = 0
    for value in values:
        total += value
    return total / len(values)
stock, rows = {}, []
for day in range(N):
    row = [day % 7, day % 5, day % 3]
    rows.append(row)
    name = "bed " + str(day % 50)
    if name not in stock:
        stock[name] = 0
    stock[name] += row[0]
    if stock[name] == "4" or mean(row) > 90:
        print(name)
""",
        6_000,
    ),
    "two names of a growing list": (
        "spare = []\nfor n in range(N):\n    other = spare\n    other.append(n)\n    if spare[n] < 0:\n        break\n",
        25_000,
    ),
    "a recursion, again and again": (
        "def down(n):\n    if n == 0:\n        return 0\n    return down(n - 1)\nfor _ in range(N):\n    down(40)",
        600,
    ),
    "exceptions in every pass": (
        "lost = 0\nfor n in range(N):\n    try:\n        int('x' + str(n))\n    except ValueError:\n        lost += 1",
        20_000,
    ),
    "rows changed in a loop": (
        "grid = [[0] * 30] * 30\nfor n in range(N):\n    grid[n % 30][n % 7] = n\n    last = grid[0][0]\nprint(last)\n",
        33_000,
    ),
    "objects in a list, at last an exception": (
        """\
class Crab:
    seen = []
    def __init__(self, name):
        self.name = name
        self.seen.append(name)
    def walk(self, by):
        self.place = by
crabs = []
for n in range(N):
    crab = Crab("crab " + str(n))
    crab.walk(n % 3)
    crabs.append(crab)
print(len(crabs), crabs[-1].nothing)
""",
        8_500,
    ),
    "a table made by comprehensions, at last an exception": (
        """\
rows = [[r * c for c in range(100)] for r in range(N)]
total = 0
for r in range(len(rows)):
    for c in range(len(rows[r])):
        total += rows[r][c]
        if rows[r][c] == total:
            rows[r][c] = 0
print(rows[r + 1][c])
""",
        250,
    ),
    "a queue that never gets empty": (
        "queue = [1]\nwhile len(queue) > 0:\n    queue.append(queue[0])\n    queue.pop()\n",
        100_000,
    ),
    "two threads that share a number": (
        """\
import threading
count = 0
def add():
    global count
    for _ in range(N):
        held = count
        count = held + 1
them = [threading.Thread(target=add) for _ in range(2)]
for its in them:
    its.start()
for its in them:
    its.join()
print(count)
""",
        16_000,
    ),
}
#: A part of a text of many statements; so many of them have a thousand lines.
_PART = """\
def mean_{0}(values):
    total = 0
    for value in values:
        total += value
    return total / len(values)
levels_{0} = [{0}, 2, 3]
names_{0} = []
for level in levels_{0}:
    if level > 2:
        names_{0}.append("bed " + str(level))
    elif level == 2:
        levels_{0}[0] = level
    else:
        note_{0} = "low"
print(mean_{0}(levels_{0}), len(names_{0}))
"""
_PARTS = 70


def _quality(folder: Path) -> None:
    kinds = {kind.id: family for family, its in families().items() for kind in its}
    tuned = _counted([*programs.examples(), *programs.programs_of(_TUNED)], folder / "tuned")
    looked = _counted([its for one in _LOOKED_AT for its in programs.programs_of(one)], folder / "looked")
    print("| family | kind | tuned on: line named | looked at once: line named |\n|---|---|---|---|")
    for kind, family in kinds.items():
        cells = [
            f"{its.count(True)} of {len(its)}" if its else "–" for its in (tuned.get(kind, []), looked.get(kind, []))
        ]
        print(f"| {family} | `{kind}` | {' | '.join(cells)} |")
    for title, found in (("tuned on", tuned), ("looked at once", looked)):
        named = [its for kind, all_ in found.items() if kind for its in all_]
        false = found.get("", [])
        count, of = named.count(True), len(named)
        told = f"the faulty line is named among the first three clues in {count} of {of} ({count / of:.0%})"
        print(f"\n{title}: {told}; {false.count(True)} of {len(false)} sound programs have a clue")


def _counted(asked: Iterable[Any], folder: Path) -> dict[str, list[bool]]:
    """By kind, of each program whether its line is named; of sound ones ('') whether there is a clue."""
    found: dict[str, list[bool]] = {}
    for number, its in enumerate(asked):
        clues = programs.clues_of(its, folder / str(number))
        found.setdefault(its.kind, []).append(programs.is_named(its, clues) if its.kind else bool(clues))
    return found


def _mistakes(folder: Path) -> None:
    """Mistakes made in sound programs: is the line named, by the run alone, beside what was to be printed, and beside
    the program that it was made of?"""
    looked = [its for one in _LOOKED_AT for its in programs.programs_of(one)]
    for title, asked in (("tuned on", programs.programs_of(_TUNED)), ("looked at once", looked)):
        sources = [(its.text, its.typed) for its in asked if not its.kind]
        sources += [(path.read_text("utf-8"), ()) for path in _models()] if asked is looked else []
        _made_in(title, sources, folder / title.split()[0])


def _models() -> list[Path]:
    return sorted((Path(lessons.__file__).parent / "demo").glob("*/sealed/*.py"))


def _made_in(title: str, sources: Iterable[tuple[str, tuple[str, ...]]], folder: Path) -> None:
    found: dict[str, list[tuple[bool, ...]]] = {}
    for number, (text, typed) in enumerate(sources):
        for its, clues in mistakes.found_in(text, typed, folder / str(number)):
            told = [(any(its.line in one for one in way), any(its.line not in one for one in way)) for way in clues]
            found.setdefault(its.kind, []).append(tuple(one for pair in told for one in pair))
    print(
        f"\n{title}\n\n| mistake | made | alone | with what was to be printed | with a model |\n|---|---|---|---|---|"
    )
    for kind, rows in [*sorted(found.items()), ("all", [row for its in found.values() for row in its])]:
        named = [sum(row[place] for row in rows) for place in (0, 2, 4)]
        print(f"| {kind} | {len(rows)} | {' | '.join(map(str, named))} |", flush=True)
    rows = [row for its in found.values() for row in its]
    print("\nof them with a clue that names another line:", [sum(row[place] for row in rows) for place in (1, 3, 5)])


def _times(folder: Path) -> None:
    for title, (text, passes) in LONG.items():
        for factor in (1, 4, 10):
            count = passes * factor
            most = _MOST_STEPS if "N)" in text else count
            _timed(folder / f"long{factor}.py", title, text.replace("N)", f"{count})"), most)
    for factor in (1, 4, 10):
        text = "".join(_PART.format(number) for number in range(_PARTS * factor))
        title = f"a text of {text.count(chr(10)):,} lines"
        _timed(folder / f"wide{factor}.py", title, text, _MOST_STEPS)


def _timed(program: Path, title: str, text: str, most_steps: int) -> None:
    program.write_text(text)
    run = Run(Order(program, max_steps=most_steps))
    run.start()
    trace = run.wait()
    samples = []
    for _ in range(_TIMES):
        recording = Recording(trace)
        recording.prepare()
        samples.append(timed_ms(lambda recording=recording: find_clues(recording)))  # type: ignore[misc]
    spread = f"({min(samples):.0f} to {max(samples):.0f})"
    print(f"{title}, {len(trace.steps):,} steps: {statistics.median(samples):.0f} ms {spread}", flush=True)


def main() -> None:
    """All of it, or with an argument one: `quality`, `mistakes`, `times`."""
    print(machine())
    for name, judge in {"quality": _quality, "mistakes": _mistakes, "times": _times}.items():
        if sys.argv[1:] in ([], [name]):
            with tempfile.TemporaryDirectory() as made:
                judge(Path(made))


if __name__ == "__main__":
    main()
