"""Looking for the clues of a run: every kind once, what contradicts the recording left out, the strongest first."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Iterable
from dataclasses import replace

from eelgrass.reading.clues.catalogue import all_kinds
from eelgrass.reading.clues.clue import LIKELY, Clue, Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.strengths import GoesWrong, suspected, weighed
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording

#: Of one kind, so many are told.
_MOST_OF_A_KIND = 4
#: A clue that is so strong leaves nothing to be explained by another.
_EXPLAINS = 0.85
_NOTHING_KNOWN = GoesWrong()


def find_clues(
    recording: Recording,
    progress: Progress | None = None,
    without: Collection[str] = (),
    wrong: GoesWrong = _NOTHING_KNOWN,
) -> list[Clue]:
    """The clues of a run, the strongest first; of the kinds that are not among those `without`. What is known to go
    `wrong` makes what lies on its trail count more. None where nobody waits any longer."""
    facts, progress = Facts(recording, wrong.visit), progress or Progress()
    found: list[Clue] = []
    chosen = [kind for kind in all_kinds() if kind.id not in without]
    for count, kind in enumerate(chosen):
        if not progress.goes_on(count / len(chosen)):
            return []
        found += _of_kind(facts, kind)
    return _chosen(weighed(facts, found, suspected(facts, wrong))) if found else []


def _chosen(clues: Iterable[Clue]) -> list[Clue]:
    """Some of each kind; what can be meant so as well as not only where nothing else explains what is wrong."""
    count, chosen = Counter[str](), list[Clue]()
    clues = ranked(clues)
    is_explained = any(its.is_seen_alone and its.strength >= _EXPLAINS for its in clues)
    for its in clues:
        count[its.kind] += 1
        is_told = its.is_seen_alone or (its.strength >= LIKELY and not is_explained)
        chosen += [its] if is_told and count[its.kind] <= _MOST_OF_A_KIND else []
    return chosen


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
    return list(best.values())


def stands(facts: Facts, evidence: Evidence) -> bool:
    """Whether the recording says what a piece of evidence rests on."""
    return all(check.holds(facts) for check in evidence.checks)


def _told(facts: Facts, kind: Kind, its: Sighting) -> Clue:
    statement = facts.trace.program.statements[its.statement]
    file = facts.trace.program.module_of(statement.function).file
    text = kind.sentence.format(line=statement.line, **its.places)
    nearest = facts.recording.stepping.nearest  # where one can stand
    evidence = tuple(replace(one, step=nearest(one.step)) for one in its.evidence)
    return Clue(
        kind.id, file, statement.line, round(its.strength, 2), text, evidence, its.statement, kind.is_seen_alone
    )
