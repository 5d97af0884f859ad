"""What is wrong with hand-ins that do not pass: where they first do otherwise than the model, and what looks like a
usual mistake. Each is run once more for that."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from eelgrass.lessons.class_sets.class_runs import Judged
from eelgrass.lessons.class_sets.grouping import Group
from eelgrass.lessons.class_sets.outcomes import digest
from eelgrass.lessons.exercises.exercise import Exercise
from eelgrass.lessons.judging.case_clues import Models, case_clues
from eelgrass.lessons.judging.first_wrong import FirstWrong, first_wrong_moment
from eelgrass.lessons.judging.judging import ModelRuns, recorded
from eelgrass.reading.clues.clue import LIKELY, Clue
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording
from eelgrass.runs.order import Leave


@dataclass(frozen=True)
class Wrong:
    """Of the first case that is not passed: where it first does otherwise than the model, and the strongest clue of its
    run, if there is a likely one."""

    first: FirstWrong = field(default_factory=FirstWrong)
    clue: Clue | None = None

    @property
    def words(self) -> str:
        """Both in sentences."""
        told = [self.first.sentence, self.clue.text if self.clue is not None else ""]
        return " ".join(its for its in told if its)


#: What hand-ins of a group are parted by.
KeyOf = Callable[[Wrong], str]


def by_moment(its: Wrong) -> str:
    """Where they first go wrong in the model."""
    return its.first.moment


def by_clue(its: Wrong) -> str:
    """What looks like a usual mistake in them."""
    return its.clue.kind if its.clue is not None else ""


class Failures:
    """What is wrong with the hand-ins to one exercise."""

    def __init__(self, exercise: Exercise, leave: Leave | None) -> None:
        self._exercise, self._leave = exercise, leave
        self._models = Models(ModelRuns(exercise, leave))

    def of(self, its: Judged) -> Wrong:
        """What is wrong with a hand-in; nothing where it passes, or cannot be run."""
        words = {one.case: one.word for one in its.outcomes}
        cases = (case for case in self._exercise.cases if words.get(case.name) in ("failed", "raised", "stopped"))
        case = next(cases, None)
        ran = recorded(self._exercise, case, its.hand_in.text, self._leave) if case is not None else ""
        if case is None or isinstance(ran, str):
            return Wrong()
        recording, model = Recording(ran.trace), self._models.of(case)
        first = first_wrong_moment(recording, model.run) if model is not None else FirstWrong()
        found = case_clues(recording, case, lambda: model)
        return Wrong(first, next((its for its in found if its.strength >= LIKELY), None))


def parted(
    groups: Sequence[Group], failures: Failures, key_of: KeyOf, progress: Progress | None = None
) -> dict[str, str]:
    """The hand-ins, by name, that do the same as others of their group, but have another key; with the key of the group
    that they make. Most of a group stay in it. Each that does not pass is run once more."""
    failing, found = [its for its in groups if not its.passes and len(its.members) > 1], dict[str, str]()
    for count, group in enumerate(failing):
        keys: dict[str, list[str]] = {}
        for its in group.members:
            if progress is not None and not progress.goes_on(count / len(failing)):
                return found
            keys.setdefault(key_of(failures.of(its)), []).append(its.hand_in.name)
        for key, names in sorted(keys.items(), key=lambda its: -len(its[1]))[1:]:
            found.update(dict.fromkeys(names, digest(group.key, key)))
    return found
