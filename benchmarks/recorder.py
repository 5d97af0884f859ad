"""What recording costs: plain run, a run under an empty `sys.settrace` line function, and our recorder, in turn."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path
from statistics import median

from benchmarks.measure import machine
from eelgrass.recorder import wire
from eelgrass.runs.child.child_process import speed_of_recording, start_child
from eelgrass.runs.child.room import Room
from eelgrass.runs.order import Order

ROUNDS = 5

#: Programs of the field station, each long enough that start-up does not count.
PROGRAMS = {
    "nested loops on a list": """
levels = [place * 7 % 13 for place in range(60)]
total = 0
for day in range(1500):
    for place in range(len(levels)):
        if levels[place] > 6:
            total = total + levels[place]
        else:
            levels[place] = levels[place] + 1
""",
    "recursion": """
def shoots(seasons):
    if seasons < 2:
        return seasons
    return shoots(seasons - 1) + shoots(seasons - 2)
print(shoots(24))
""",
    "objects": """
class Crab:
    def __init__(self, tag):
        self.tag = tag
        self.place = 0
        self.moves = 0
    def move(self, by):
        self.place = self.place + by
        if self.place > 50:
            self.place = 0
        self.moves = self.moves + 1
crabs = [Crab(str(number)) for number in range(20)]
for tide in range(4000):
    for crab in crabs:
        crab.move(tide % 3)
""",
    "objects made, kept in a list": """
class Crab:
    def __init__(self, tag):
        self.tag = tag
        self.legs = 8
        self.places = []
    def heavier(self, other):
        return self.tag > other.tag
crabs = []
for number in range(15000):
    crabs.append(Crab(number * 7919 % 1009))
heaviest = crabs[0]
for crab in crabs:
    if crab.heavier(heaviest):
        heaviest = crab
    crab.places.append((number, "reef"))
""",
    "dictionary counting": """
words = ["reef", "pier", "mud", "sluice", "north", "reef", "pier"] * 20000
counts = {}
for word in words:
    if word in counts:
        counts[word] = counts[word] + 1
    else:
        counts[word] = 1
""",
    "string building": """
text = ""
for number in range(100000):
    letter = "abcdefgh"[number % 8]
    if letter == "h":
        text = ""
    text = text + letter
""",
    "generator pipeline": """
def readings(count):
    for number in range(count):
        yield number * 7 % 23
def above(levels, least):
    for level in levels:
        if level > least:
            yield level
def in_metres(levels):
    return (level / 10 for level in levels)
total = 0.0
for level in in_metres(above(readings(40000), 9)):
    total = total + level
print(total)
""",
}

TIMED = """
import sys, time
code = compile(open(sys.argv[1]).read(), sys.argv[1], "exec")
def line(frame, event, argument):
    return line
if sys.argv[2] == "trace":
    sys.settrace(line)
start = time.perf_counter()
exec(code, {"__name__": "__main__"})
seconds = time.perf_counter() - start
sys.settrace(None)
print(seconds, file=sys.stderr)
"""


def plain_seconds(program: Path, how: str) -> float:
    """Seconds of one run, plain or under an empty trace function."""
    done = subprocess.run([sys.executable, "-c", TIMED, str(program), how], capture_output=True, text=True, check=True)
    return float(done.stderr)


def recorded(program: Path) -> tuple[float, int]:
    """(seconds, steps) of one recorded run."""
    summary = program.with_suffix(".json")
    target = ["-o", str(program.with_suffix(".eelrec")), "--summary", str(summary)]
    command = [sys.executable, "-m", "eelgrass.cli", "record", *target, str(program)]
    subprocess.run(command, capture_output=True, check=True)
    told = json.loads(summary.read_text())
    return told["seconds"], told["steps"]


def alone(program: Path) -> float:
    """Seconds of a recorded run of which nobody makes a recording: what the child tells is read when it has ended."""
    child = start_child(Order(program), Room(), stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL)
    told = bytearray()
    while data := os.read(child.stream, 1 << 20):
        told += data
    child.process.wait()
    os.close(child.stream)
    ending = [payload for kind, payload in wire.Blocks().feed(bytes(told)) if kind == wire.ENDED]
    return float(json.loads(ending[-1])["seconds"])


def main() -> None:
    """Prints a table for `docs/performance.md`."""
    print(machine())
    print(speed_of_recording())
    print("| program | steps | plain run, ms | empty trace function ÷ plain | recorder ÷ plain |", end=" ")
    print("recorder ÷ empty trace: least of five, median | child alone ÷ empty trace, least |")
    print("|---|---|---|---|---|---|---|", flush=True)
    for name, text in PROGRAMS.items():
        with tempfile.TemporaryDirectory() as folder:
            program = Path(folder) / "program.py"
            program.write_text(text)
            rounds = [
                (plain_seconds(program, "plain"), plain_seconds(program, "trace"), *recorded(program), alone(program))
                for _ in range(ROUNDS)
            ]
        columns = list(zip(*rounds, strict=True))
        plain, traced, ours, _, unheard = map(min, columns)
        middle = median(columns[2]) / median(columns[1])
        print(
            f"| {name} | {rounds[0][3]:,} | {plain * 1000:.1f} | {traced / plain:.1f} | {ours / plain:.1f} | "
            f"{ours / traced:.2f}, {middle:.2f} | {unheard / traced:.2f} |",
            flush=True,
        )


if __name__ == "__main__":
    main()
