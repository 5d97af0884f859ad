"""The demo lesson: small programs of the Bay of Linnet field station, each with a planted logic error."""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path

FOLDER = Path(__file__).with_name("demo")


@dataclass(frozen=True)
class Exercise:
    """One program of a lesson: its title, the task, and the lines of input that show the trouble."""

    program: Path
    title: str
    task: str
    input: tuple[str, ...] = ()


@dataclass(frozen=True)
class Lesson:
    """A title and its exercises in order."""

    title: str
    exercises: tuple[Exercise, ...]


def demo_lesson() -> Lesson:
    """The lesson that comes with Eelgrass."""
    told = json.loads((FOLDER / "lesson.json").read_text(encoding="utf-8"))
    return Lesson(told["title"], tuple(_exercise(row) for row in told["programs"]))


def _exercise(row: dict[str, str]) -> Exercise:
    lines = (FOLDER / row["input"]).read_text(encoding="utf-8").splitlines() if "input" in row else []
    return Exercise(FOLDER / row["program"], row["title"], row["task"], tuple(lines))
