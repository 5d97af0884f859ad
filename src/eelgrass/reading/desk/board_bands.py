"""When pins of the board were on, and buttons pressed, over a run: bands below the tide line."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from eelgrass.reading.desk.board_parts import BoardPart
from eelgrass.reading.threads.bands import MOST_BANDS, Band
from eelgrass.trace.columns import Ints

#: Below it each band is one of a pin, not of a thread.
NO_THREAD = -1


def board_bands(told: Iterable[tuple[int, str, BoardPart]], end: int) -> list[Band]:
    """The bands of the first pins that were ever on, in the order of when they were told of; `told` are the steps at
    which a part looked so, in order, and `end` is the last step."""
    since: dict[str, int | None] = {}
    firsts: dict[str, int] = {}
    on: dict[str, list[tuple[int, int]]] = {}
    for step, name, part in told:
        if part.kind != "pin":
            continue
        firsts.setdefault(name, step)
        began = since.get(name)
        if part.is_on and began is None:
            since[name] = step
        elif not part.is_on and began is not None:
            on.setdefault(name, []).append((began + 1, step))
            since[name] = None
    for name, began in since.items():
        if began is not None:
            on.setdefault(name, []).append((began + 1, end))
    lit = [name for name in firsts if name in on][:MOST_BANDS]
    return [Band(NO_THREAD, name, firsts[name], end, _stretches(on[name]), *[_stretches([])] * 2) for name in lit]


def _stretches(rows: list[tuple[int, int]]) -> Ints:
    return np.array([its for its in rows if its[0] <= its[1]], np.int32).reshape(-1, 2)
