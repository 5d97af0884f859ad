"""What it costs to record containers that change by one at a time, and how that grows with their size."""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

from benchmarks.measure import machine
from benchmarks.recorder import plain_seconds, recorded

_SIZES = (2000, 8000, 32000)
#: Programs in which COUNT stands for the number of changes.
PROGRAMS = {
    "list, appended to and popped": """
rows = []
for number in range(COUNT):
    rows.append(number)
while rows:
    rows.pop()
""",
    "set, added to": """
seen = set()
for number in range(COUNT):
    seen.add(number * 7)
""",
    "dictionary, setdefault": """
known = {}
for number in range(COUNT):
    known.setdefault(number, number)
""",
    "defaultdict(int)": """
from collections import defaultdict
counts = defaultdict(int)
for number in range(COUNT):
    counts[number] += 1
""",
    "Counter": """
from collections import Counter
counts = Counter()
for number in range(COUNT):
    counts[number] += 1
""",
    "heap": """
import heapq
heap = []
for number in range(COUNT):
    heapq.heappush(heap, number * 7919 % 10007)
""",
    "queue by pop(0)": """
queue = list(range(COUNT))
while queue:
    queue.pop(0)
""",
    "list, insert(0, …)": """
rows = []
for number in range(COUNT):
    rows.insert(0, number)
""",
    "deque, both ends": """
from collections import deque
queue = deque()
for number in range(COUNT):
    queue.append(number)
    if number % 2:
        queue.popleft()
""",
}


def main() -> None:
    """Prints a table for `docs/performance.md`; arguments are other numbers of changes than the usual ones."""
    sizes = [int(argument) for argument in sys.argv[1:]] or list(_SIZES)
    print(machine())
    print("| program | changes | empty trace function, ms | recorder, ms | recorder ÷ empty trace | bytes on disk |")
    print("|---|---|---|---|---|---|", flush=True)
    for name, text in PROGRAMS.items():
        for size in sizes:
            with tempfile.TemporaryDirectory() as folder:
                program = Path(folder) / "program.py"
                program.write_text(text.replace("COUNT", str(size)))
                traced = min(plain_seconds(program, "trace") for _ in range(3))
                ours = min(recorded(program)[0] for _ in range(3))
                stored = program.with_suffix(".eelrec").stat().st_size
            row = f"| {name} | {size:,} | {traced * 1000:.1f} | {ours * 1000:.1f} | {ours / traced:.1f} | {stored:,} |"
            print(row, flush=True)


if __name__ == "__main__":
    main()
