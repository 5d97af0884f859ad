"""A class set: all that a class handed in to one exercise, what came of it, and in which groups."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property

from eelgrass.lessons.class_sets.class_runs import Judged, Workers, judge_class
from eelgrass.lessons.class_sets.grouping import Group, as_given, grouped, same_texts
from eelgrass.lessons.class_sets.hand_ins import HandIn, latest
from eelgrass.lessons.class_sets.kept_outcomes import KeptOutcomes
from eelgrass.lessons.exercises.exercise import Exercise
from eelgrass.reading.progress import Progress
from eelgrass.runs.texts import source_text


@dataclass(frozen=True)
class ClassSet:
    """The hand-ins of an exercise, of which `every` one has been judged, those of the same name in their order."""

    exercise: Exercise
    every: tuple[Judged, ...]

    @cached_property
    def judged(self) -> list[Judged]:
        """The latest of each name."""
        wanted = set(latest(its.hand_in for its in self.every))
        return [its for its in self.every if its.hand_in in wanted]

    @cached_property
    def groups(self) -> list[Group]:
        """Those that do the same, the largest group first."""
        return grouped(self.judged)

    @cached_property
    def ways(self) -> dict[str, list[Judged]]:
        """The hand-ins of those who handed in several, in their order, by name."""
        found: dict[str, list[Judged]] = {}
        for its in sorted(self.every, key=lambda its: its.hand_in.turn):
            found.setdefault(its.hand_in.name, []).append(its)
        return {name: its for name, its in found.items() if len(its) > 1}

    @cached_property
    def same_texts(self) -> list[list[str]]:
        """Whose programs are the same but for names and layout."""
        return same_texts(its.hand_in for its in self.judged)

    @cached_property
    def as_given(self) -> list[str]:
        """Who handed in the program as it was given."""
        given = source_text.decoded(self.exercise.program.read_bytes())
        return as_given((its.hand_in for its in self.judged), given)


def class_set(
    exercise: Exercise,
    handed: Sequence[HandIn],
    workers: Workers,
    kept: KeptOutcomes,
    progress: Progress | None = None,
    judged: Callable[[Judged], None] = lambda _its: None,
) -> ClassSet:
    """Judges all that was handed in; as far as that goes until the person has enough. Raises OSError."""
    return ClassSet(exercise, tuple(judge_class(exercise, handed, workers, kept, progress, judged)))
