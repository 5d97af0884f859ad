"""Programs with a usual mistake in them, and sound ones that look alike: what clues are measured by.

A text file holds several, each begun by a line `=== kind`, or `=== sound`; lines after `<<< ` are typed; the line
that is wrong ends in `#!`.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from pathlib import Path

from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.judging.case_clues import case_clues
from eelgrass.reading.clues.catalogue import all_kinds
from eelgrass.reading.clues.clue import LIKELY, Clue
from eelgrass.reading.clues.finding import find_clues
from eelgrass.reading.recording import Recording
from eelgrass.trace.model import Texts
from support.runs import run_of_text

PROGRAMS = Path(__file__).parents[1] / "reading" / "clues"
#: The faulty line is to be among so many clues.
FIRST = 3
_MARK = "#!"
_MOST_STEPS = 20_000


@dataclass(frozen=True)
class ClueProgram:
    """`kind` is the id of the clue that is expected, '' of a sound program; `line` the one that is wrong, or 0; `right`
    a program that prints what this one was to print, where somebody has to know that."""

    kind: str
    text: str
    line: int
    typed: tuple[str, ...]
    right: str = ""


def program(kind: str, marked: str, typed: tuple[str, ...] = ()) -> ClueProgram:
    """A program from its text with the faulty line marked."""
    lines = marked.split("\n")
    wrong = next((number for number, line in enumerate(lines, 1) if line.endswith(_MARK)), 0)
    return ClueProgram(kind, "\n".join(line.removesuffix(_MARK).rstrip() for line in lines), wrong, typed)


def programs_of(folder: str) -> Iterator[ClueProgram]:
    """Those in the text files of a folder: `tuned`, or `held_out`."""
    for path in sorted((PROGRAMS / folder).glob("*.txt")):
        for part in path.read_text().split("=== ")[1:]:
            head, _, rest = part.partition("\n")
            lines = rest.split("\n")
            typed = tuple(line.removeprefix("<<< ") for line in lines if line.startswith("<<< "))
            text = "\n".join(line for line in lines if not line.startswith("<<< "))
            yield program("" if head.strip() == "sound" else head.strip(), text, typed)


def examples() -> Iterator[ClueProgram]:
    """Those that the kinds themselves have: each one's faulty program and its sound twin."""
    for kind in all_kinds():
        yield replace(program(kind.id, kind.faulty, kind.typed), right="" if kind.is_seen_alone else kind.twin)
        yield program("", kind.twin, kind.typed)


def recording_of(its: ClueProgram, folder: Path) -> Recording:
    """A run of a program, in a new folder."""
    folder.mkdir(parents=True)
    return Recording(run_of_text(its.text, its.typed, folder, max_steps=_MOST_STEPS))


def output_of(recording: Recording) -> str:
    """What a run printed."""
    return "".join(recording.trace.texts.of(Texts.OUTPUT))


def clues_of(its: ClueProgram, folder: Path) -> list[Clue]:
    """The likely clues of a run of a program."""
    run = recording_of(its, folder)
    right = recording_of(replace(its, text=its.right), folder / "right") if its.right else None
    clues = find_clues(run) if right is None else case_clues(run, Case("", output=output_of(right)))
    return [clue for clue in clues if clue.strength >= LIKELY]


def is_named(its: ClueProgram, clues: list[Clue]) -> bool:
    """Whether the faulty line of a program is that of one of its first clues."""
    return its.line in [clue.line for clue in clues[:FIRST]]
