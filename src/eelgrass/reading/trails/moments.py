"""Moments: the events that trails are made of."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from eelgrass.reading.recording import Recording
from eelgrass.trace.histories import Part
from eelgrass.trace.values import NOT_SET


class Kind(StrEnum):
    """What happened at a moment. The last ones before `NOT_RUN` are ends: nothing recorded lies behind them."""

    PRINTED = "printed"
    STORED = "stored"
    CHANGED = "changed"
    HANDED_OVER = "handed over"
    GIVEN_BACK = "given back"
    DECIDED = "decided"
    RAISED = "raised"
    TYPED = "typed"
    FROM_FILE = "read from a file"
    LITERAL = "literal"
    RANDOM = "random"
    LIBRARY = "library"
    NOT_RUN = "not run"


ENDS = frozenset((Kind.TYPED, Kind.FROM_FILE, Kind.LITERAL, Kind.RANDOM, Kind.LIBRARY))


@dataclass(frozen=True)
class Moment:
    """Something that happened at a visit of a statement (`step`).

    `what` is the name, element, field, function, part of the text or, for NOT_RUN, the reason; of an element or field
    without the object that it belongs to, which `named` tells, too. `value` is a value number, as it was just before
    step `seen`. `frame` is, of what is handed over, the frame that was called, and of what is
    given back, that which gave it. `slot` is where it was written (-1: nowhere).
    """

    kind: Kind
    step: int
    what: str
    value: int = NOT_SET
    seen: int = -1
    frame: int = -1
    slot: int = -1
    #: For NOT_RUN: the statement that would have written.
    statement: int = -1


def named(recording: Recording, moment: Moment) -> str:
    """What a moment is about, with the name of the object that it belongs to. The name is looked for only when it is
    asked for: what a statement read can be thousands of elements."""
    slots = recording.trace.slots
    if moment.slot < 0 or moment.kind == Kind.NOT_RUN or slots.part[moment.slot] == Part.NAME:
        return moment.what
    return recording.line_notes.owner(int(slots.owner[moment.slot]), moment.step, moment.seen) + moment.what
