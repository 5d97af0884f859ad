"""Breakpoints: places in the text, with a condition; all their hits are known at once (needs F1, F2, F6)."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from eelgrass.reading import ask
from eelgrass.reading.alignment import matched_lines
from eelgrass.reading.recording import Recording
from eelgrass.trace.columns import Ints

#: A condition is looked at for so many visits, at most, since the window waits for it.
MOST_CONDITIONS = 2_000


@dataclass(frozen=True)
class Breakpoint:
    """A line of a file; `condition` is a question that has to be answered with yes, '' for none; `every` makes only
    each so-manieth of the hits count; one that is not `on` has no hits, but stays."""

    file: str
    line: int
    condition: str = ""
    every: int = 1
    on: bool = True


@dataclass(frozen=True)
class Hits:
    """The steps at which a breakpoint is hit, in order, and, in words, what keeps them from being all, or ''."""

    steps: Ints
    why: str = ""


def hits(recording: Recording, breakpoint_: Breakpoint) -> Hits:
    """All hits of a breakpoint over the whole run."""
    files = [module.file for module in recording.trace.program.modules]
    if not breakpoint_.on or breakpoint_.file not in files:
        return Hits(np.zeros(0, np.int32))
    visits = recording.visits.of_line(files.index(breakpoint_.file), breakpoint_.line)
    why = ""
    if breakpoint_.condition:
        try:
            asked = ask.question(breakpoint_.condition)
        except ask.QuestionError as error:
            return Hits(np.zeros(0, np.int32), str(error))
        if len(visits) > MOST_CONDITIONS:
            why = f"Only the first {MOST_CONDITIONS:,} visits were looked at."
        answers = [
            ask.at(recording, asked, recording.places.frame_of(step), step)
            for step in visits[:MOST_CONDITIONS].tolist()
        ]
        unknown = next((answer.text for answer in answers if not answer.known), "")
        why = unknown or why
        visits = np.array([answer.step for answer in answers if answer.is_true], np.int32)
    return Hits(visits[breakpoint_.every - 1 :: breakpoint_.every], why)


def moved(breakpoints: list[Breakpoint], file: str, old: str, new: str) -> tuple[list[Breakpoint], list[Breakpoint]]:
    """(the breakpoints with their lines in a changed text, those whose line is gone)."""
    lines = matched_lines(old, new)
    kept, gone = [], []
    for its in breakpoints:
        if its.file != file:
            kept.append(its)
        elif its.line in lines:
            kept.append(replace(its, line=lines[its.line]))
        else:
            gone.append(its)
    return kept, gone
