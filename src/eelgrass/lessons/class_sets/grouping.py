"""Hand-ins grouped by what they do: those with the same results, by the same outputs and failures, on all cases."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from eelgrass.lessons.class_sets.hand_ins import HandIn
from eelgrass.lessons.exercises.exercise import Exercise
from eelgrass.lessons.judging.first_wrong import first_wrong
from eelgrass.lessons.judging.judging import ModelRuns, Result, recorded
from eelgrass.reading.recording import Recording
from eelgrass.runs.order import Leave

_PLACE = re.compile(r"[“\"'‘][^”\"'’]*[”\"'’]|\d+")
#: Where a claim does not hold hangs on how many lines a student takes.
_STEP = re.compile(r" at step \d+ \(line \d+\)")

#: What came of one case, as far as it tells one behaviour from another: a word, and what was printed or said.
Behaviour = tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class Group:
    """Hand-ins that do the same: what they do in a sentence, their names, the smallest one, what came of each case in a
    word, and where the smallest first does otherwise than the model ('' where it does not, or there is none)."""

    name: str
    members: tuple[str, ...]
    typical: HandIn
    results: dict[str, str]
    first_difference: str = ""

    @property
    def passes(self) -> bool:
        """Whether every case is passed."""
        return all(its == "passed" for its in self.results.values())


def grouped(judged: Iterable[tuple[HandIn, Sequence[Result]]]) -> list[Group]:
    """The groups, the largest first, and of as many the one that came first."""
    found: dict[Behaviour, list[tuple[HandIn, Sequence[Result]]]] = {}
    for its, results in judged:
        found.setdefault(_behaviour(results), []).append((its, results))
    return sorted((_group(members) for members in found.values()), key=lambda its: -len(its.members))


def with_differences(groups: Sequence[Group], exercise: Exercise, leave: Leave | None) -> list[Group]:
    """The same with where each first does otherwise than the model, by its smallest program."""
    models = ModelRuns(exercise, leave)
    return [_with_difference(its, exercise, models, leave) for its in groups]


def word(result: Result) -> str:
    """What came of a case, in a word."""
    if result.raised:
        return "raised"
    return {"run away": "stopped", "cannot run": "could not run"}.get(result.verdict, result.verdict)


def _behaviour(results: Sequence[Result]) -> Behaviour:
    """Names and places in what is said of a failure are each student's own; what was printed by a run that was stopped
    hangs on when it was."""
    told = []
    for its in results:
        what = word(its)
        if what in ("stopped", "could not run"):
            told.append((what, _PLACE.sub("", its.why)))
        else:
            told.append((what, f"{its.raised or _STEP.sub('', its.why)}\n{its.output.rstrip()}"))
    return tuple(told)


def _group(members: list[tuple[HandIn, Sequence[Result]]]) -> Group:
    typical, results = min(members, key=lambda its: (len(its[0].text), its[0].name))
    failed = next((its for its in results if not its.is_passed), None)
    name = "It passes every case." if failed is None else f"{failed.case}: {failed.why}"
    return Group(name, tuple(its.name for its, _ in members), typical, {its.case: word(its) for its in results})


def _with_difference(its: Group, exercise: Exercise, models: ModelRuns, leave: Leave | None) -> Group:
    case = next(
        (case for case in exercise.cases if its.results.get(case.name) in ("failed", "raised", "stopped")), None
    )
    model = models.of(case) if case is not None else None
    if case is None or model is None:
        return its
    ran = recorded(exercise, case, its.typical.text, leave)
    told = "" if isinstance(ran, str) else first_wrong(Recording(ran.trace), model)
    return Group(its.name, its.members, its.typical, its.results, told)
