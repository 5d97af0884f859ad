"""The demo lesson: small programs of the Bay of Linnet field station, each with a planted error."""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path

from eelgrass.lessons.exercises.exercise import Exercise, load

FOLDER = Path(__file__).with_name("demo")


@dataclass(frozen=True)
class Lesson:
    """A title and its exercises in order."""

    title: str
    exercises: tuple[Exercise, ...]

    def exercise(self, name: str) -> Exercise:
        """The exercise in the folder of this name. Raises KeyError."""
        found = {its.folder.name: its for its in self.exercises}
        return found[name]


def demo_lesson() -> Lesson:
    """The lesson that comes with Eelgrass."""
    told = json.loads((FOLDER / "lesson.json").read_text(encoding="utf-8"))
    return Lesson(told["title"], tuple(load(FOLDER / name) for name in told["exercises"]))
