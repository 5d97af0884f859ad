"""What makes a clue count more or less than its own evidence: whether it lies on the way to what went wrong, and
whether it is there where nothing goes wrong, too."""

from __future__ import annotations

from collections.abc import Iterable, Set
from dataclasses import replace
from pathlib import Path

from eelgrass.reading.clues.clue import LIKELY, Clue
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.trails.origins import Origins
from eelgrass.reading.trails.trail import (
    NoTrailError,
    Trail,
    trail_of_end,
    trail_of_exception,
    trail_of_output,
)

#: So many links of a trail are looked at.
_MOST_LINKS = 150
#: How much of what is missing to certainty lying on the trail adds, and what is left of a clue that lies far from it.
_NEARER, _FURTHER = 0.4, 0.8
#: What is left of a clue that is there in a run in which nothing goes wrong.
_ALSO_WHERE_RIGHT = 0.6


def statements_on_trail(facts: Facts, wrong_character: int | None = None) -> frozenset[int]:
    """The statements on the trail of what went wrong in a run: the first wrong character of its output (from 0), if one
    is given, else the exception that ended it, or what kept it from ending. None of them where nothing is known."""
    origins = Origins(facts.recording)
    try:
        trail = _trail(origins, wrong_character)
    except NoTrailError:
        return frozenset()
    for _ in trail.walk():
        if len(trail.links) >= _MOST_LINKS:
            break
    statement = facts.trace.steps.statement
    return frozenset(int(statement[link.step]) for link in trail.links[:_MOST_LINKS])


def _trail(origins: Origins, wrong_character: int | None) -> Trail:
    if wrong_character is not None:
        return trail_of_output(origins, wrong_character)
    return trail_of_end(origins) if origins.trace.outcome.outcome == "stopped" else trail_of_exception(origins)


def weighed(facts: Facts, clues: Iterable[Clue], on_trail: Set[int]) -> list[Clue]:
    """Clues on a trail count more, those far from it less; where there is no trail, they stay as they are."""
    if not on_trail:
        return list(clues)
    statement = facts.trace.steps.statement
    found = []
    for clue in clues:
        of_clue = {clue.statement, *(int(statement[its.step]) for its in clue.evidence)}
        near = bool(of_clue & on_trail)
        strength = clue.strength + (1 - clue.strength) * _NEARER if near else clue.strength * _FURTHER
        if clue.strength < LIKELY:
            strength = min(strength, clue.strength)  # lying near makes no evidence of what is none
        found.append(replace(clue, strength=round(strength, 2)))
    return found


def beside_right_runs(clues: Iterable[Clue], of_right_runs: Iterable[Iterable[Clue]]) -> list[Clue]:
    """The clues of a run that goes wrong, beside those of runs of the same program that go right: what is there in
    these, too, counts less."""
    also = {(its.kind, Path(its.file).name, its.line) for clues_ in of_right_runs for its in clues_}
    return [
        replace(its, strength=round(its.strength * _ALSO_WHERE_RIGHT, 2))
        if (its.kind, Path(its.file).name, its.line) in also
        else its
        for its in clues
    ]
