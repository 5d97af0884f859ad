"""Two runs of growing length held against each other: how long until the first differences are known."""

from __future__ import annotations

import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from benchmarks.measure import machine
from benchmarks.trail import recorded_passes
from eelgrass.reading.comparing.runs import compare
from eelgrass.reading.recording import Recording

ROUNDS = 3


def main(arguments: list[str]) -> None:
    """Measures runs of about so many steps: a run against itself, which is looked at to its end."""
    print(f"{machine()}\n\n| steps of each | median of {ROUNDS}, s | worst, s |\n|---|---|---|")
    with tempfile.TemporaryDirectory() as folder:
        for steps in map(int, arguments or ["62500", "250000", "1000000"]):
            trace = recorded_passes(steps, Path(folder))
            samples = []
            for _ in range(ROUNDS):
                runs = Recording(trace), Recording(trace)
                begun = time.perf_counter()
                found = compare(*runs)
                samples.append(time.perf_counter() - begun)
                assert found.is_same
            print(f"| {len(trace.steps):,} | {np.median(samples):.2f} | {max(samples):.2f} |", flush=True)


if __name__ == "__main__":
    main(sys.argv[1:])
