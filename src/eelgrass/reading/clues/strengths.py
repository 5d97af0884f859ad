"""What makes a clue count more or less than its own evidence: whether it lies on the way to what went wrong, and
whether it is there where nothing goes wrong, too."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path

from eelgrass.errors import EelgrassError
from eelgrass.reading.clues.clue import LIKELY, Clue
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.trails.origins import Origins
from eelgrass.reading.trails.trail import (
    Trail,
    trail_of_end,
    trail_of_exception,
    trail_of_expression,
    trail_of_output,
    trail_of_visit,
)

#: So many links of a trail are looked at; those that are so few links away from what is wrong are near.
_MOST_LINKS = 150
_NEAR = 2
#: How much of what is missing to certainty lying on the trail adds, and what is left of a clue that lies far from it.
_NEARER, _FURTHER = 0.4, 0.8
#: What is left of a clue that is there in a run in which nothing goes wrong.
_ALSO_WHERE_RIGHT = 0.6


@dataclass(frozen=True)
class GoesWrong:
    """What somebody knows of where a run goes wrong: the first wrong `character` of its output (from 0); an expression
    whose `value` is wrong just before a step; the `visit` that first does otherwise than in a run that goes right."""

    character: int | None = None
    value: tuple[str, int] | None = None
    visit: int | None = None


@dataclass(frozen=True)
class Suspected:
    """Statements on the trail of what went wrong, those of them that somebody's knowledge leads to directly, and the
    one (-1: none) that first did otherwise than in a run that goes right."""

    on_trail: frozenset[int] = frozenset()
    near: frozenset[int] = frozenset()
    first: int = -1


def suspected(facts: Facts, wrong: GoesWrong) -> Suspected:
    """The statements on the trails of what is known to go wrong in a run; where nothing is, on that of the exception
    that ended it, or of what kept it from ending. None of them where nothing is known."""
    origins, steps = Origins(facts.recording), facts.trace.steps
    links = [link for trail in _known(origins, wrong) for link in _reached(trail).items()]
    links += [(wrong.visit, 0)] if wrong.visit is not None else []
    if links:
        near = {int(steps.statement[step]) for step, away in links if away <= _NEAR}
        first = int(steps.statement[wrong.visit]) if wrong.visit is not None else -1
        return Suspected(frozenset(int(steps.statement[step]) for step, _ in links), frozenset(near), first)
    try:
        trail = trail_of_end(origins) if facts.trace.outcome.outcome == "stopped" else trail_of_exception(origins)
    except EelgrassError:
        return Suspected()
    return Suspected(frozenset(int(steps.statement[step]) for step in _reached(trail)))


def _known(origins: Origins, wrong: GoesWrong) -> Iterable[Trail]:
    ways: list[Callable[[], Trail]] = []
    if wrong.character is not None:
        ways.append(partial(trail_of_output, origins, wrong.character))
    if wrong.value is not None:
        ways.append(partial(trail_of_expression, origins, *wrong.value))
    if wrong.visit is not None:
        ways.append(partial(trail_of_visit, origins, wrong.visit))
    for make in ways:
        try:
            yield make()
        except EelgrassError:
            continue  # what was asked for is no moment that a trail begins at; the others may be


def _reached(trail: Trail) -> dict[int, int]:
    """The steps of a trail's first links, with how many links each is away from its beginning."""
    away = dict.fromkeys(trail.beginning, 0)
    for number in trail.walk():
        for its in trail.opened(number):
            away.setdefault(its, away[number] + 1)
        if len(away) >= _MOST_LINKS:
            break
    found: dict[int, int] = {}
    for number, its in list(away.items())[:_MOST_LINKS]:
        found.setdefault(trail.links[number].step, its)
    return found


def weighed(facts: Facts, clues: Iterable[Clue], suspects: Suspected) -> list[Clue]:
    """Clues on a trail count more, most at the first statement that did otherwise, and those far from it less; where
    there is no trail, they stay as they are. A weak one
    counts more only where somebody's knowledge leads to its statement directly: nothing else makes evidence of what is
    none."""
    return [_weighed(facts, its, suspects) for its in clues] if suspects.on_trail else list(clues)


def _weighed(facts: Facts, clue: Clue, suspects: Suspected) -> Clue:
    statement = facts.trace.steps.statement
    on_trail = not suspects.on_trail.isdisjoint({clue.statement, *(int(statement[its.step]) for its in clue.evidence)})
    counts = clue.statement in suspects.near if clue.strength < LIKELY else on_trail
    strength = clue.strength
    for _ in range(counts + (counts and clue.statement == suspects.first)):
        strength += (1 - strength) * _NEARER
    return replace(clue, strength=round(strength if on_trail else strength * _FURTHER, 2))


def beside_right_runs(clues: Iterable[Clue], of_right_runs: Iterable[Iterable[Clue]]) -> list[Clue]:
    """The clues of a run that goes wrong, beside those of runs of the same program that go right: what is there in
    these, too, counts less."""
    also = {(its.kind, Path(its.file).name, its.line) for clues_ in of_right_runs for its in clues_}
    return [_less(its) if (its.kind, Path(its.file).name, its.line) in also else its for its in clues]


def beside_model(clues: Iterable[Clue], of_model: Iterable[Clue], matched: Mapping[int, int]) -> list[Clue]:
    """The clues of a run that goes wrong, beside those of a program that does what was wanted: what is there in the
    same statement, as `matched`, of both counts less."""
    also = {(its.kind, its.statement) for its in of_model}
    return [_less(its) if (its.kind, matched.get(its.statement, -1)) in also else its for its in clues]


def _less(clue: Clue) -> Clue:
    return replace(clue, strength=round(clue.strength * _ALSO_WHERE_RIGHT, 2))
