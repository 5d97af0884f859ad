"""Looking for the clues of a run: every kind once, what contradicts the recording left out, the strongest first."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import replace

from eelgrass.reading.clues.catalogue import all_kinds
from eelgrass.reading.clues.clue import Clue, Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.strengths import statements_on_trail, weighed
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording

#: Of one kind, so many are told.
_MOST_OF_A_KIND = 4


def find_clues(
    recording: Recording,
    progress: Progress | None = None,
    without: Collection[str] = (),
    wrong_character: int | None = None,
) -> list[Clue]:
    """The clues of a run, the strongest first; of the kinds that are not among those `without`. Where it is known
    which character of the output (from 0) is the first wrong one, what lies on its trail counts more. Fewer where
    nobody waits any longer."""
    facts, progress = Facts(recording), progress or Progress()
    found: list[Clue] = []
    chosen = [kind for kind in all_kinds() if kind.id not in without]
    for count, kind in enumerate(chosen):
        if not progress.goes_on(count / len(chosen)):
            return ranked(found)
        found += _of_kind(facts, kind)
    on_trail = statements_on_trail(facts, wrong_character) if found else frozenset()
    return ranked(weighed(facts, found, on_trail))


def ranked(clues: Iterable[Clue]) -> list[Clue]:
    """The strongest first; of those that are equally strong, the one that shows itself first."""
    return sorted(clues, key=lambda its: (-its.strength, its.step or 0, its.kind))


def _of_kind(facts: Facts, kind: Kind) -> list[Clue]:
    best: dict[int, Clue] = {}  # by the statement that it is about
    for sighting in kind.find(facts):
        if all(stands(facts, its) for its in sighting.evidence):
            clue = _told(facts, kind, sighting)
            if clue.statement not in best or best[clue.statement].strength < clue.strength:
                best[clue.statement] = clue
    return ranked(best.values())[:_MOST_OF_A_KIND]


def stands(facts: Facts, evidence: Evidence) -> bool:
    """Whether the recording says what a piece of evidence rests on."""
    return all(check.holds(facts) for check in evidence.checks)


def _told(facts: Facts, kind: Kind, its: Sighting) -> Clue:
    statement = facts.trace.program.statements[its.statement]
    file = facts.trace.program.module_of(statement.function).file
    text = kind.sentence.format(line=statement.line, **its.places)
    nearest = facts.recording.stepping.nearest  # where one can stand
    evidence = tuple(replace(one, step=nearest(one.step)) for one in its.evidence)
    return Clue(kind.id, file, statement.line, round(its.strength, 2), text, evidence, its.statement)
