"""Large values and deep recursion: what recording them takes, against a plain run of the whole process."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from benchmarks.measure import machine

_DIVE = """
import sys
sys.setrecursionlimit(10**6)
def dive(n):
    return 0 if n == 0 else 1 + dive(n - 1)
print(dive(DEPTH))
"""
_WORDS = """
import random
from collections import Counter, defaultdict
draw = random.Random(3)
words = ["w%d" % draw.randrange(3000) for _ in range(10_000)]
KEPT
"""
PROGRAMS = {
    "a text of 350 MB": 'song = "linnet " * 50_000_000\nprint(len(song))',
    "140 MB of bytes": "data = bytes(140_000_000)\nprint(len(data))",
    "60 texts of 4 MB": "rows = [chr(65 + n % 26) * 4_000_000 for n in range(60)]\nprint(len(rows))",
    "a list of 20,000,000": "levels = list(range(20_000_000))\nlevels[15_000_000] = 7\nprint(levels[15_000_000])",
    "a list of 10,000,000, 100 stores": "levels = [0] * 10_000_000\nfor n in range(100):\n    levels[n * 90_000] = n",
    "1,000,000 elements put in at once": "levels = [1]\nlevels.append(2)\nlevels.extend(range(1_000_000))",
    "2,000 lists of 1,000": "rows = []\nfor n in range(2000):\n    rows.append([n] * 1000)",
    "an array of 1,000,000": "import numpy as np\nlevels = np.arange(1_000_000) * 1.5\nlevels[5] = 3",
    **{f"{depth:,} calls deep": _DIVE.replace("DEPTH", str(depth)) for depth in (10_000, 40_000, 160_000)},
    "10,000 words in a set": _WORDS.replace("KEPT", "seen = set()\nfor word in words:\n    seen.add(word)"),
    "10,000 words in a Counter": _WORDS.replace(
        "KEPT", "counts = Counter()\nfor word in words:\n    counts[word] += 1"
    ),
    "10,000 words in lists by word": _WORDS.replace(
        "KEPT", "places = defaultdict(list)\nfor n, word in enumerate(words):\n    places[word].append(n)"
    ),
}


def _taken(command: list[str]) -> tuple[float, int]:
    """(seconds of a process, the most MiB that it or one of those it started had in memory). Raises OSError when it
    fails."""
    began = time.perf_counter()
    process = subprocess.Popen(command, stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL)
    _, status, used = os.wait4(process.pid, 0)
    if status:
        raise OSError(f"{command} ended with {status}")
    return time.perf_counter() - began, used.ru_maxrss >> 10


def main() -> None:
    """Prints a table for `docs/performance.md`."""
    print(machine())
    print("| program | plain, s | plain, MiB | recorded, s | recorded, most MiB of one process | bytes on disk |")
    print("|---|---|---|---|---|---|", flush=True)
    for name, text in PROGRAMS.items():
        with tempfile.TemporaryDirectory() as folder:
            program, recording = Path(folder) / "program.py", Path(folder) / "run.eelrec"
            program.write_text(text)
            bare, bare_memory = _taken([sys.executable, str(program)])
            record = ["-m", "eelgrass.cli", "record", "--max-steps", "0", "-o", str(recording)]
            ours, memory = _taken([sys.executable, *record, str(program)])
            stored = recording.stat().st_size
        print(f"| {name} | {bare:.2f} | {bare_memory} | {ours:.2f} | {memory} | {stored:,} |", flush=True)


if __name__ == "__main__":
    main()
