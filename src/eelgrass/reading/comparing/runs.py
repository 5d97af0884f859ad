"""Two runs along one time, and the first differences of path, of value and of output.

The runs are followed by their visits of matched statements; what statements did that only one text has, and the calls
that these made, is left out. As long as both visit the same statements in the same order, their writes can be held
against each other, objects by the order in which they come to be (a simple form of execution indexing: Xin, Sumner and
Zhang, Efficient program execution indexing, 2008, where the index is the place in the matched sequence).
"""

from __future__ import annotations

from bisect import bisect_left
from dataclasses import dataclass

import numpy as np

from eelgrass.reading.comparing.alike import Alike
from eelgrass.reading.comparing.ends import other_ends
from eelgrass.reading.comparing.groups import groups
from eelgrass.reading.comparing.visited import Events, Pair, Visited
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.output import piece_with
from eelgrass.trace.columns import Ints
from eelgrass.trace.model import Texts
from eelgrass.trace.values import NOT_SET


@dataclass(frozen=True)
class Difference:
    """Where two runs differ: the steps in both (-1: no such moment), what differs, and its values (their numbers)."""

    step_a: int
    step_b: int
    what: str = ""
    value_a: int = NOT_SET
    value_b: int = NOT_SET


@dataclass(frozen=True)
class OutputDifference:
    """The first character of standard output that differs, a little text from there on, and the steps that printed."""

    character: int
    text_a: str
    text_b: str
    step_a: int
    step_b: int


@dataclass(frozen=True)
class Comparison:
    """`path`: the decision after which the runs go to different statements, or end otherwise, which `ends` then has in
    words; `value`: the first thing that was stored, changed, handed over or given back otherwise before that; `aligned`
    visits are the same."""

    path: Difference | None
    value: Difference | None
    output: OutputDifference | None
    aligned: int
    ends: tuple[str, str] | None = None

    @property
    def is_same(self) -> bool:
        """Whether the runs did the same throughout."""
        return self.path is None and self.value is None and self.output is None


def compare(a: Recording, b: Recording, pair: Pair | None = None) -> Comparison:
    """The first differences of two runs."""
    pair = pair or Pair(a, b)
    one, other = pair.ours, pair.theirs
    common = _common(one.visited, other.visited)
    most = max(len(one.visited), len(other.visited))
    ends = other_ends(a.trace, b.trace) if common == most else None
    path = None
    if common < most or ends is not None or pair.has_nothing_in_common:
        path = Difference(one.step_before(common), other.step_before(common))
    value = _first_value(one, other, common)
    return Comparison(path, value, _first_output(a, b), common, ends)


def _common(one: Ints, other: Ints) -> int:
    """How many of the first visits are the same."""
    most = min(len(one), len(other))
    unlike = np.flatnonzero(one[:most] != other[:most])
    return int(unlike[0]) if len(unlike) else most


def _first_value(one: Visited, other: Visited, common: int) -> Difference | None:
    """The first event up to a place that is another one."""
    alike = Alike(one.recording, other.recording)
    ours, theirs = one.events(common), other.events(common)
    counts = len(ours.step), len(theirs.step)
    row = _first_unlike(alike, ours, theirs, min(counts))
    if row < min(counts):
        mine, its = ours.at(row), theirs.at(row)
        return Difference(one.visit(mine), other.visit(its), alike.what(mine), mine.value, its.value)
    if counts[0] > counts[1]:
        event = ours.at(counts[1])
        return Difference(one.visit(event), other.step_before(event.place), alike.what(event), event.value)
    if counts[1] > counts[0]:
        event = theirs.at(counts[0])
        what = Alike(other.recording, one.recording).what(event)
        return Difference(one.step_before(event.place), other.visit(event), what, NOT_SET, event.value)
    return None


def _first_unlike(alike: Alike, ours: Events, theirs: Events, count: int) -> int:
    """The first row of both that does not stand for the same; `count` where all do. Looked at are only rows with a pair
    of keys, or of values, that is not the same at a glance and has not come before."""
    unlike = np.flatnonzero((ours.place[:count] != theirs.place[:count]) | (ours.part[:count] != theirs.part[:count]))
    count = int(unlike[0]) if len(unlike) else count
    pairs = (ours.part[:count], ours.scope[:count], ours.key[:count], theirs.key[:count])
    doubtful = np.flatnonzero(~alike.at_a_glance(ours.value[:count], theirs.value[:count]))
    values = doubtful[groups(ours.value[doubtful], theirs.value[doubtful])[0]]
    for row in np.union1d(groups(*pairs)[0], values).tolist():
        one, other = ours.at(row), theirs.at(row)
        if not (alike.keys(one, other) and alike.values(one, other)):
            return int(row)
    return count


def _first_output(a: Recording, b: Recording) -> OutputDifference | None:
    texts = ["".join(its.trace.texts.of(Texts.OUTPUT)) for its in (a, b)]
    if texts[0] == texts[1]:
        return None
    one, other = texts
    lengths = range(min(map(len, texts)) + 1)
    place = bisect_left(lengths, True, key=lambda length: one[:length] != other[:length]) - 1
    ends = [text[place : place + 40].split("\n")[0] for text in texts]
    printed = [piece_with(its.output, place) for its in (a, b)]
    steps = [piece.step if piece is not None else -1 for piece in printed]
    return OutputDifference(place, ends[0], ends[1], steps[0], steps[1])
