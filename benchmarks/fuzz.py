"""Damaged files of strangers: `./bench fuzz FILES [FIRST]`; what should not be, is printed with its seed."""

from __future__ import annotations

import importlib
import os
import resource
import sys
import tempfile
import time
import warnings
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

sys.path.append(str(Path(__file__).parents[1] / "tests"))
hostile_files = importlib.import_module("support.hostile_files")
_AT_ONCE = 1_000


def tried(first: int, end: int) -> tuple[Counter[str], list[tuple[int, str]], int]:
    """(how often what came, what should not have, the most MiB of memory)."""
    warnings.simplefilter("ignore")
    counts: Counter[str] = Counter()
    wrong = []
    with tempfile.TemporaryDirectory() as folder:
        for seed, told in hostile_files.outcomes(Path(folder), range(first, end)):
            kind = "loaded" if told == "loaded" else "wrong" if told.startswith("WRONG") else "a sentence"
            counts[kind] += 1
            wrong += [(seed, told)] if kind == "wrong" else []
    return counts, wrong, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss >> 10


def main() -> int:
    count, first = (int(its) for its in (*sys.argv[1:], "0")[:2])
    begun, counts, most = time.monotonic(), Counter[str](), 0
    with ProcessPoolExecutor(os.cpu_count()) as processes:
        parts = [
            processes.submit(tried, its, min(its + _AT_ONCE, first + count))
            for its in range(first, first + count, _AT_ONCE)
        ]
        for part in parts:
            found, wrong, mebibytes = part.result()
            counts, most = counts + found, max(most, mebibytes)
            for seed, told in wrong:
                print(f"{seed}: {told}", flush=True)
    print(f"{dict(counts)} in {time.monotonic() - begun:.0f} s, at most {most} MiB")
    return min(counts["wrong"], 1)


if __name__ == "__main__":
    sys.exit(main())
