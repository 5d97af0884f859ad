"""What the measurements share: samples, and the sentence about the machine."""

from __future__ import annotations

import os
import platform
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

from eelgrass.reading.recording import Recording
from eelgrass.runs.order import Order
from eelgrass.runs.run import Run

#: A small station program: nested loops, lists, dictionaries, calls. `{days}` sets its length: about 41 steps a day.
STATION = """\
def mean_level(levels):
    total = 0
    for level in levels:
        if level > 9:
            continue
        total = total + level
    return total / len(levels)


def survey(days):
    counts = {{}}
    history = []
    for day in range(days):
        place = "bed " + str(day % 7)
        levels = [day % 5, day % 11, day % 3, 2.5]
        mean = mean_level(levels)
        if place in counts:
            counts[place] = counts[place] + 1
        else:
            counts[place] = 1
        history.append(mean)
        if len(history) > 20:
            history.pop()
    return counts


print(survey({days}))
"""


def machine() -> str:
    """The machine, for publishing beside the figures."""
    model = next(
        (
            line.partition(":")[2].strip()
            for line in Path("/proc/cpuinfo").read_text().splitlines()
            if "model name" in line
        ),
        platform.machine(),
    )
    return f"{model}, {os.cpu_count()} cores, Python {platform.python_version()}"


def spread(samples_ms: list[float]) -> str:
    """Median, 99th percentile and worst of samples in milliseconds."""
    values = np.array(samples_ms)
    median, nearly_all = np.percentile(values, [50, 99])
    return f"median {median:.2f} ms, 99th percentile {nearly_all:.2f} ms, worst {values.max():.2f} ms"


def timed_ms(action: Callable[[], object]) -> float:
    """Wall time of one call, in milliseconds."""
    start = time.perf_counter()
    action()
    return (time.perf_counter() - start) * 1000


def recording_of(steps: int, folder: Path) -> Recording:
    """A recording of the station program, of about so many steps."""
    program = folder / "station.py"
    program.write_text(STATION.format(days=max(steps // 34, 1)))
    run = Run(Order(program))
    run.start()
    return Recording(run.wait())
