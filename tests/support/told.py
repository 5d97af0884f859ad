"""How much the hooks tell while a program runs, and how long that takes: `python told.py FILE` prints the seconds and
the bytes. In a process of its own, as always."""

from __future__ import annotations

import sys
import time
from pathlib import Path

from eelgrass.recorder import wire
from eelgrass.recorder.hooks.log import Taken
from eelgrass.recorder.hooks.table import Hooks
from eelgrass.recorder.process.modules.compiling import woven_code
from eelgrass.recorder.process.modules.own_modules import OwnModules
from eelgrass.recorder.weaving.points import Points


def told(program: Path) -> tuple[float, int]:
    """(seconds, bytes of what is told) of one run."""
    sizes: list[int] = []

    def take(taken: Taken) -> None:
        sizes.append(len(wire.chunk(*taken)))

    hooks = Hooks(take, 1, 20_000)
    points = Points(wire.FIRST_POINT)
    code = woven_code(program.read_bytes(), str(program), points, hooks, OwnModules("/nowhere", {}))
    hooks.log.make_codes(wire.FIRST_POINT + len(points.points))
    start = time.perf_counter()
    exec(code, {"__name__": "__main__"})
    hooks.log.flush()
    seconds = time.perf_counter() - start
    hooks.release()
    return seconds, sum(sizes)


if __name__ == "__main__":
    print(*told(Path(sys.argv[1])))
