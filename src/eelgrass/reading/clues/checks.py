"""What evidence rests on: each check asks the recording once more, in another way than the kind that found it did."""

from __future__ import annotations

import ast
from dataclasses import dataclass
from typing import Any

from eelgrass.parsing import literal
from eelgrass.reading.clues.clue import Check
from eelgrass.reading.clues.facts import UNKNOWN, Facts
from eelgrass.trace.model import StepKind
from eelgrass.trace.values import NOT_SET


@dataclass(frozen=True)
class Holds:
    """An expression is true in a frame just before a step."""

    expression: str
    frame: int
    step: int

    def holds(self, facts: Facts) -> bool:
        """Whether it is."""
        return facts.asked(self.expression, self.step, self.frame) is True


@dataclass(frozen=True)
class Ran:
    """A statement ran at a step."""

    statement: int
    step: int

    def holds(self, facts: Facts) -> bool:
        """Whether it did."""
        steps = facts.trace.steps
        return bool(steps.statement[self.step] == self.statement and steps.kind[self.step] == StepKind.LINE)


@dataclass(frozen=True)
class NeverRan:
    """A statement never ran."""

    statement: int

    def holds(self, facts: Facts) -> bool:
        """Whether it did not."""
        return not len(facts.recording.visits.of_statement(self.statement))


@dataclass(frozen=True)
class Changed:
    """An object was changed from one step up to another."""

    number: int
    since: int
    until: int

    def holds(self, facts: Facts) -> bool:
        """Whether it was."""
        return facts.trace.histories.written_inside(self.number, self.since, self.until)


@dataclass(frozen=True)
class LeadsTo:
    """A name leads to an object in a frame just before a step."""

    name: str
    number: int
    frame: int
    step: int

    def holds(self, facts: Facts) -> bool:
        """Whether it does."""
        return facts.object_named(self.name, self.frame, self.step) == self.number


@dataclass(frozen=True)
class GaveNothing:
    """A frame ended by handing back None."""

    frame: int

    def holds(self, facts: Facts) -> bool:
        """Whether it did."""
        value = int(facts.trace.frames.value[self.frame])
        return value != NOT_SET and facts.trace.values.get(value) is None


@dataclass(frozen=True)
class Raised:
    """An exception passed at a step."""

    step: int

    def holds(self, facts: Facts) -> bool:
        """Whether one did."""
        return bool(facts.trace.steps.kind[self.step] == StepKind.RAISE)


@dataclass(frozen=True)
class Printed:
    """A visit printed a text."""

    visit: int
    text: str

    def holds(self, facts: Facts) -> bool:
        """Whether it did."""
        return self.text in facts.printed(self.visit)


@dataclass(frozen=True)
class Reads:
    """The statement at a step reads a name."""

    name: str
    step: int

    def holds(self, facts: Facts) -> bool:
        """Whether it does."""
        site = facts.site_at(self.step)
        return site is not None and site in facts.loads(site.function, self.name)


@dataclass(frozen=True)
class Over:
    """The round of a loop that began at one step is over at another, after so many passes."""

    loop: int
    first: int
    past: int
    passes: int

    def holds(self, facts: Facts) -> bool:
        """Whether it is."""
        loops = facts.recording.loops
        return (
            len(loops.starts(self.first, self.loop)) == self.passes and loops.past(self.first, self.loop) == self.past
        )


@dataclass(frozen=True)
class Gave:
    """A part of a visit's statement, with calls in it whose results are recorded, was worth a value."""

    node: ast.expr
    visit: int
    value: Any

    def holds(self, facts: Facts) -> bool:
        """Whether it was."""
        return bool(facts.value(self.node, self.visit) == self.value)


def part_worth(node: ast.expr, value: Any, frame: int, visit: int) -> tuple[Check, ...]:
    """That a part of a visit's statement was worth a value: asked anew where that can be, or of what calls gave."""
    if any(isinstance(its, ast.Call) for its in ast.walk(node)):
        return (Gave(node, visit, value),)
    return worth(ast.unparse(node), value, frame, visit)


def worth(expression: str, value: Any, frame: int, step: int) -> tuple[Check, ...]:
    """That an expression has a value; where that cannot be written out, that it has one. None of what is not known."""
    if value is UNKNOWN:
        return ()
    try:
        literal(repr(value))
    except (ValueError, SyntaxError):
        return (Holds(f"({expression}) is not None", frame, step),)
    return (Holds(f"({expression}) == {value!r}" if value is not None else f"({expression}) is None", frame, step),)
