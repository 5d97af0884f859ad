"""Everything in which two runs along one time differ."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
import numpy.typing as npt

from eelgrass.reading.comparing.alignment import Alignment
from eelgrass.reading.comparing.alike import Alike
from eelgrass.reading.comparing.ends import other_ends
from eelgrass.reading.comparing.groups import groups, nth_in_group
from eelgrass.reading.comparing.visited import GIVEN, RESULT, Event, Events
from eelgrass.trace.columns import Ints, Wides
from eelgrass.trace.model import Texts
from eelgrass.trace.values import NOT_SET

#: So many differences of value are told apart at most.
MOST_VALUES = 20_000


class Kind(StrEnum):
    """What is different: the way, a value, or what was printed."""

    PATH = "path"
    VALUE = "value"
    OUTPUT = "output"


#: In which order they are told that come to be seen at the same step.
_ORDER = (Kind.VALUE, Kind.OUTPUT, Kind.PATH)


@dataclass(frozen=True)
class Apart:
    """A difference: the visits in both runs at which it is (-1: before the first), and `when`, at which steps, it comes
    to be seen. `what`: the name, field or place, with the numbers of both values and of the objects that they are in
    (-1: none); or the texts that were printed; or how many visits of its own each run makes after it, or how it
    ends."""

    kind: Kind
    when: int
    when_there: int
    here: int
    there: int
    what: str = ""
    value_here: int = NOT_SET
    value_there: int = NOT_SET
    what_there: str = ""
    owner_here: int = NOT_SET
    owner_there: int = NOT_SET
    text_here: str = ""
    text_there: str = ""
    more_here: int = 0
    more_there: int = 0

    @property
    def is_there_alone(self) -> bool:
        """Whether only the other run wrote or printed something."""
        written = self.kind == Kind.VALUE and self.value_here == NOT_SET
        return written or (self.kind == Kind.OUTPUT and not self.text_here)

    def turned(self) -> Apart:
        """The same, seen from the other run."""
        return Apart(
            *(self.kind, self.when_there, self.when, self.there, self.here, self.what_there or self.what),
            *(self.value_there, self.value_here, self.what, self.owner_there, self.owner_here),
            *(self.text_there, self.text_here, self.more_there, self.more_here),
        )


def in_order(found: list[Apart]) -> list[Apart]:
    """By the step at which they come to be seen; of one step, what was done by the innermost visit first."""
    return sorted(found, key=lambda its: (its.when, its.is_there_alone, _ORDER.index(its.kind), -its.here))


def differences(alignment: Alignment) -> list[Apart]:
    """All of them, in order. What follows from a parting of the ways is no difference of its own."""
    return in_order([*_paths(alignment), *_values(alignment), *_printed(alignment)])


def _paths(alignment: Alignment) -> list[Apart]:
    """Where, after the same visit, the runs go on otherwise, or end otherwise."""
    here, there = (np.concatenate(([-1], steps)) for steps in (alignment.here, alignment.there))
    found = []
    if alignment.has_nothing_in_common:
        more_here, more_there = (len(its.stepping.stops) for its in (alignment.a, alignment.b))
        return [Apart(Kind.PATH, -1, -1, -1, -1, more_here=more_here, more_there=more_there)]
    for place in np.flatnonzero(alignment.is_parting).tolist():
        at = int(here[place]), int(there[place])
        more = (int(its[place]) for its in alignment.alone)
        found.append(Apart(Kind.PATH, *at, *at, more_here=next(more), more_there=next(more)))
    ends = other_ends(alignment.a.trace, alignment.b.trace)
    if ends is not None and not alignment.is_parting[-1]:
        at = int(here[-1]), int(there[-1])
        found.append(Apart(Kind.PATH, *at, *at, text_here=ends[0], text_there=ends[1]))
    return found


class _Written:
    """What the visits that both runs make wrote in one of them. `events` have the number of their pair of visits as
    their place; a row is known by its `key`: pair, part, and how many of that part came before in the pair."""

    def __init__(self, alignment: Alignment, side: int) -> None:
        run = alignment.runs[side]
        events = run.events(len(run.steps), with_results=True)
        pairs = _pairs(alignment, side)[run.visits_of_events(events)]
        events = _chosen(events._replace(place=pairs), pairs >= 0)
        self.events = events = _chosen(events, _is_last(events))
        group = events.place * (RESULT + 1) + events.part
        self.key: Wides = (group << 32) + nth_in_group(group)


def _pairs(alignment: Alignment, side: int) -> Wides:
    """By place among the visits of a run: the number of the pair of visits that both make, or -1; -1 comes last."""
    found = np.full(len(alignment.runs[side].steps) + 1, -1, np.int64)
    found[alignment.places[side]] = np.arange(len(alignment.here))
    return found


def _chosen(events: Events, rows: npt.NDArray[np.bool_]) -> Events:
    return Events(*(column[rows] for column in events))


def _is_last(events: Events) -> npt.NDArray[np.bool_]:
    """Of what is written to the same name, field or place in the same visit, the last; of all else, each."""
    found: npt.NDArray[np.bool_] = (events.key == NOT_SET) | (events.part >= GIVEN)
    names = events.place, events.part, events.scope, events.key, events.owner, events.frame
    backwards = (column[::-1] for column in names)
    found[len(found) - 1 - groups(*backwards)[0]] = True
    return found


def _values(alignment: Alignment) -> list[Apart]:
    """What the same visits wrote otherwise."""
    ours, theirs = _Written(alignment, 0), _Written(alignment, 1)
    alike, turned = Alike(alignment.a, alignment.b), Alike(alignment.b, alignment.a)
    _, mine, its = np.intersect1d(ours.key, theirs.key, assume_unique=True, return_indices=True)
    found = []
    for row in _told_once(ours.events, mine, _unlike(alike, ours.events, theirs.events, mine, its)):
        one, other = ours.events.at(int(mine[row])), theirs.events.at(int(its[row]))
        at = int(alignment.here[one.place]), int(alignment.there[one.place])
        whats, owners = (alike.what(one), turned.what(other)), (one.owner, other.owner)
        found.append(Apart(Kind.VALUE, one.step, other.step, *at, whats[0], one.value, other.value, whats[1], *owners))
    found += _alone(alignment, ours.events, mine)
    return found + [apart.turned() for apart in _alone(alignment.turned(), theirs.events, its)]


def _told_once(events: Events, mine: Ints, unlike: list[int]) -> list[int]:
    """Without what parts of statements gave where the same visit wrote something otherwise, or a call that it made has
    just given back something else: that tells it."""
    rows = [int(mine[row]) for row in unlike]
    written = {int(events.place[row]) for row in rows if events.part[row] != RESULT}
    given = {int(events.step[row]) for row in rows if events.part[row] == GIVEN}
    return [
        row
        for row, one in zip(unlike, rows, strict=True)
        if events.part[one] != RESULT or (int(events.place[one]) not in written and int(events.step[one]) not in given)
    ]


def _unlike(alike: Alike, ours: Events, theirs: Events, mine: Ints, its: Ints) -> list[int]:
    """The rows of joined events that do not stand for the same. They are looked at in the order of time, since those
    objects are the same that met first; of rows with the same owners or keys, the first one."""
    doubtful = ~alike.at_a_glance(ours.value[mine], theirs.value[its])
    owners = _Groups(ours.owner[mine], theirs.owner[its])
    keys = _Groups(ours.part[mine], ours.scope[mine], ours.key[mine], theirs.key[its])
    looked_at = np.unique(np.concatenate((np.flatnonzero(doubtful), owners.first, keys.first)))
    looked_at = looked_at[np.argsort(ours.step[mine[looked_at]], kind="stable")]
    found, left = np.zeros(len(mine), np.bool_), MOST_VALUES
    for row in looked_at.tolist():
        if not left:
            break
        one, other = ours.at(int(mine[row])), theirs.at(int(its[row]))
        owners.judge(row, alike.owners, one, other)
        keys.judge(row, alike.keys, one, other)
        if doubtful[row] and not alike.values(one, other):
            found[row] = True
            left -= 1
    rows: list[int] = np.flatnonzero(found | owners.unlike() | keys.unlike())[:MOST_VALUES].tolist()
    return rows


class _Groups:
    """Rows that have the same numbers in some columns, of which one is judged for all."""

    def __init__(self, *columns: Ints) -> None:
        self.first, self._group = groups(*columns)
        self._is_unlike = np.zeros(len(self.first), np.bool_)
        self._left = np.ones(len(self.first), np.bool_)

    def judge(self, row: int, is_alike: Callable[[Event, Event], bool], one: Event, other: Event) -> None:
        """Judges the group of a row, if that has not been done."""
        group = int(self._group[row])
        if self._left[group]:
            self._left[group] = False
            self._is_unlike[group] = not is_alike(one, other)

    def unlike(self) -> npt.NDArray[np.bool_]:
        """The rows of the groups that are not alike."""
        rows: npt.NDArray[np.bool_] = self._is_unlike[self._group]
        return rows


def _alone(alignment: Alignment, events: Events, joined: Ints) -> list[Apart]:
    """What only the first of two runs wrote, of which some rows are joined with those of the other."""
    what = Alike(alignment.a, alignment.b).what
    alone = np.ones(len(events.step), np.bool_)
    alone[joined] = False
    alone &= ~alignment.is_parting[1:][events.place] & (events.part != RESULT)
    found = []
    for row in np.flatnonzero(alone)[:MOST_VALUES].tolist():
        its = events.at(row)
        at = int(alignment.here[its.place]), int(alignment.there[its.place])
        found.append(Apart(Kind.VALUE, its.step, alignment.there_by(its.step), *at, what(its), its.value))
    return found


def _printed(alignment: Alignment) -> list[Apart]:
    """What the same visits printed otherwise."""
    ours, theirs = (_texts(alignment, side) for side in (0, 1))
    found = []
    for pair in sorted({*ours, *theirs}):
        at = (int(alignment.here[pair]), int(alignment.there[pair])) if pair >= 0 else (-1, -1)
        (when, text), (when_there, other) = ours.get(pair, (-1, "")), theirs.get(pair, (-1, ""))
        when = when if text else alignment.here_by(when_there)
        when_there = when_there if other else alignment.there_by(when)
        if text != other:
            found.append(Apart(Kind.OUTPUT, when, when_there, *at, text_here=text, text_there=other))
    return found


def _texts(alignment: Alignment, side: int) -> dict[int, tuple[int, str]]:
    """By pair of visits (-1: before the first): at which step one of them first printed on standard output, and what.
    What was printed by what only one text has counts as of the visit before it."""
    run, pair_of = alignment.runs[side], _pairs(alignment, side)
    texts = run.trace.texts
    chosen = np.flatnonzero((texts.channel == Texts.OUTPUT) & (texts.step >= 0))
    visits = run.visits_of(texts.step[chosen])
    visits = np.where(visits < 0, np.searchsorted(run.steps, texts.step[chosen], "right") - 1, visits)
    found: dict[int, tuple[int, str]] = {}
    for row, visit, pair in zip(chosen.tolist(), visits.tolist(), pair_of[visits].tolist(), strict=True):
        if pair >= 0 or visit < 0:
            first, before = found.get(pair, (int(texts.step[row]), ""))
            found[pair] = first, before + texts.pieces[row]
    return found
