"""How `grid` shares out the space of a widget: where the boundaries of rows and columns lie (Tk's grid).

Each boundary has a least place, by what has to fit before it, and a greatest, by what has to fit behind it; what is
open between them is shared by weights. All rows are worked out as columns are.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import NamedTuple


class Track(NamedTuple):
    """What was said of a row or column."""

    least: int = 0
    weight: int = 0
    pad: int = 0
    uniform: str = ""


class Span(NamedTuple):
    """What lies `over` so many tracks from the `first` on, and how large it is with its padding."""

    first: int
    over: int
    size: int


def boundaries(spans: Sequence[Span], tracks: Sequence[Track]) -> list[int]:
    """The ends of all tracks, each as small as it can be, with 0 before the first."""
    sizes = [its.least for its in tracks]
    for its in spans:
        if its.over == 1:
            sizes[its.first] = max(sizes[its.first], its.size + tracks[its.first].pad)
    _make_uniform(sizes, tracks)
    ending: list[list[Span]] = [[] for _ in tracks]
    for its in spans:
        if its.over > 1:
            ending[its.first + its.over - 1].append(its)
    low = [0]
    for place, size in enumerate(sizes):
        low.append(max([low[-1] + size, *(its.size + low[its.first] for its in ending[place])]))
    high = _greatest(low[-1], sizes, ending)
    _share_out(low, high, sizes, tracks)
    return low


def fitted(ends: Sequence[int], tracks: Sequence[Track], room: int) -> list[int]:
    """The same ends where there is another amount of room, which goes to, or comes from, tracks with weights."""
    sizes = [end - start for start, end in pairwise(ends)]
    weights, open_ = [its.weight for its in tracks], room - ends[-1]
    if open_ > 0 and any(weights):
        return [end + open_ * sum(weights[:place]) // sum(weights) for place, end in enumerate(ends)]
    if open_ < 0 and any(weights):
        sizes = _shrunk(sizes, tracks, -open_)
    found = [0]
    for size in sizes:
        found.append(found[-1] + size)
    return found


def _make_uniform(sizes: list[int], tracks: Sequence[Track]) -> None:
    """Tracks of one group are as large as their weights say."""
    groups: dict[str, int] = {}
    for its, size in zip(tracks, sizes, strict=True):
        if its.uniform:
            weight = its.weight or 1
            groups[its.uniform] = max(groups.get(its.uniform, 0), -(-size // weight))
    for place, its in enumerate(tracks):
        if its.uniform:
            sizes[place] = groups[its.uniform] * (its.weight or 1)


def _greatest(end: int, sizes: Sequence[int], ending: Sequence[Sequence[Span]]) -> list[int]:
    """How far on each boundary may lie at the most."""
    high, at = [end] * (len(sizes) + 1), end
    for place in range(len(sizes) - 1, -1, -1):
        for its in ending[place]:
            high[its.first] = min(high[its.first], at - its.size)
        at = high[place] = min(high[place], at - sizes[place])
    high[0] = 0
    return high


def _share_out(low: list[int], high: list[int], sizes: list[int], tracks: Sequence[Track]) -> None:
    """Shares out what is open between least and greatest places, stretch by stretch, until every boundary is fixed."""
    place = 1
    while place < len(low):
        if low[place] == high[place]:
            place += 1
            continue
        end = next(its for its in range(place + 1, len(low)) if low[its] == high[its])
        weights = [tracks[its - 1].weight for its in range(place, end + 1)]
        weights = weights if sum(weights) else [1] * len(weights)
        total = sum(weights)
        needed = sum(sizes[its - 1] for its in range(place, end + 1))
        open_ = high[end] - low[place - 1] - needed
        ends = [low[place - 1] + sum(sizes[place - 1 : its]) for its in range(place, end)]
        for its, least in zip(range(place, end), ends, strict=True):
            if weights[its - place]:
                open_ = min(open_, (high[its] - least) * total // sum(weights[: its - place + 1]))
        for its, least in zip(range(place, end), ends, strict=True):
            low[its] = max(low[its], least + open_ * sum(weights[: its - place + 1]) // total)
            sizes[its - 1] = low[its] - low[its - 1]
        sizes[end - 1] = low[end] - low[end - 1]
        for its in range(end, place, -1):
            high[its - 1] = min(high[its - 1], high[its] - sizes[its - 1])


def _shrunk(sizes: Sequence[int], tracks: Sequence[Track], missing: int) -> list[int]:
    """Sizes with so much less in all, by weights, each at least as large as was said."""
    left, least = list(sizes), [its.least if its.weight else size for its, size in zip(tracks, sizes, strict=True)]
    while missing > 0:
        weights = [its.weight if size > low else 0 for its, size, low in zip(tracks, left, least, strict=True)]
        total = sum(weights)
        if not total:
            break
        taken = min([missing, *(total * (left[n] - least[n]) // its for n, its in enumerate(weights) if its)])
        if not taken:
            break
        ends = [-(-taken * sum(weights[: place + 1]) // total) for place in range(len(left))]
        for place, end in enumerate(ends):
            left[place] -= end - (ends[place - 1] if place else 0)
        missing -= taken
    return left
