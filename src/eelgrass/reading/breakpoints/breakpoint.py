"""Breakpoints, notes and claims: a place, a question asked there, and what is wished for.

Since the run is recorded, all hits of a new one are known at once, past and to come.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np

from eelgrass.reading.alignment import line_after, matched_lines
from eelgrass.reading.breakpoints.locations import Kind, Location, moments_of
from eelgrass.reading.expressions.batch import Batch, NoValue, evaluated
from eelgrass.reading.expressions.expression import Expression, ExpressionError, parse_expression, template
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording
from eelgrass.reading.watches import watch
from eelgrass.trace.columns import Ints

NOWHERE: Ints = np.zeros(0, np.int64)
#: So many notes are written out.
MOST_NOTES = 5_000
_TRUE = parse_expression("True")


@dataclass(frozen=True)
class Breakpoint:
    """A place (see `locations.Location`), a question asked there (`condition`, '' for none), and a wish.

    Without `note` and `claims` it stops where the answer is yes: with `nth` only the so-manieth time, with `every` each
    so-manieth time. With a `note`, a text with expressions in braces, it writes that down and does not stop. If it
    `claims`, the answer should always be yes, and its hits are the moments when it is no. One that is not `on` has no
    hits, but stays. `statement` is the text that it is fastened to; when that is gone, `line` is 0.
    """

    file: str
    line: int = 0
    condition: str = ""
    every: int = 1
    on: bool = True
    kind: Kind = "line"
    name: str = ""
    function: str = ""
    call: int = 0
    nth: int = 0
    note: str = ""
    claims: bool = False
    statement: str = ""

    @property
    def location(self) -> Location:
        """Where its question is asked."""
        return Location(self.file, self.kind, self.line, self.name, self.function, self.call)

    @property
    def is_gone(self) -> bool:
        """Whether the statement that it was fastened to is no longer in the text."""
        return self.kind == "line" and self.line == 0


@dataclass(frozen=True)
class Hits:
    """The steps at which a breakpoint is hit, in order; in words, what keeps them from being all, or ''; how often its
    question was answered with yes or no; its notes, one for each hit; and, of a claim, the values at its first no."""

    steps: Ints = field(default_factory=lambda: NOWHERE)
    why: str = ""
    asked: int = 0
    notes: list[str] = field(default_factory=list)
    values: str = ""


def is_quick(its: Breakpoint) -> bool:
    """Whether its hits are found in an instant, so that nobody has to wait on another thread."""
    return not (its.condition or its.note or its.kind in ("change", "read", "everywhere"))


def hits(recording: Recording, its: Breakpoint, progress: Progress | None = None) -> Hits:
    """All hits over the whole run."""
    if not its.on:
        return Hits()
    try:
        asked = parse_expression(its.condition) if its.condition else _TRUE
        noted = template(its.note) if its.note else None
    except ExpressionError as error:
        return Hits(why=str(error))
    found = moments_of(recording, its.location, asked, its.claims, progress)
    if its.condition:
        answers = evaluated(recording.trace, asked, found.steps, found.frames, progress)
        told, hit = _judged(recording, its, asked, answers, found.why)
    else:
        told, hit = Hits(found.steps, found.why, len(found.steps)), np.arange(len(found.steps))
    if its.claims:
        return told
    hit = hit[_counted(its, len(hit))]
    told = replace(told, steps=found.steps[hit])
    notes = _notes(recording, noted, told.steps, found.frames[hit], progress) if noted is not None else []
    return replace(told, notes=notes)


def _judged(recording: Recording, its: Breakpoint, asked: Expression, answers: Batch, why: str) -> tuple[Hits, Ints]:
    """What came of asking, and the places of the moments that hit."""
    truth = answers.truth()
    hit = np.flatnonzero(truth == (0 if its.claims else 1))
    if its.kind == "everywhere" and not its.claims:
        hit = hit[_becomes(answers, truth)[hit]]
    unknown = next((result.text for result in answers.results if isinstance(result, NoValue)), "")
    if not answers.is_whole:
        why = f"Only the first {len(answers.steps):,} moments were looked at."
    known = int((truth >= 0).sum())
    values = ""
    if its.claims and len(hit):
        step, frame = int(answers.steps[hit[0]]), int(answers.frames[hit[0]])
        values = values_of(recording, asked, frame, step)
    return Hits(answers.steps[hit], why or ("" if known else unknown), known, values=values), hit


def _becomes(answers: Batch, truth: Ints) -> Ints:
    """Whether each answer is another than the one before in its frame."""
    order = np.argsort(answers.frames, kind="stable")
    new = np.ones(len(order), np.bool_)
    frames, ordered = answers.frames[order], truth[order]
    new[order[1:]] = (frames[1:] != frames[:-1]) | (ordered[1:] != ordered[:-1])
    return new  # type: ignore[return-value]


def _counted(its: Breakpoint, count: int) -> Ints:
    if its.nth > 0:
        return np.arange(its.nth - 1, min(its.nth, count))
    return np.arange(max(its.every, 1) - 1, count, max(its.every, 1))


def _notes(recording: Recording, noted: Expression, steps: Ints, frames: Ints, progress: Progress | None) -> list[str]:
    told = evaluated(recording.trace, noted, steps[:MOST_NOTES], frames[:MOST_NOTES], progress)
    results = [told.results[place] for place in told.which.tolist()]
    return [result.text if isinstance(result, NoValue) else str(result) for result in results]


def values_of(recording: Recording, asked: Expression, frame: int, step: int) -> str:
    """The names of a question with their values at a moment, as `level = 3, beds = [1, 2]`."""
    told = ((name, watch.at(recording, parse_expression(name), frame, step)) for name in asked.names)
    return ", ".join(f"{name} = {answer.text}" for name, answer in told if answer.known and answer.type_word)


def moved(breakpoints: list[Breakpoint], file: str, old: str, new: str) -> list[Breakpoint]:
    """The breakpoints with their lines in a changed text; those whose statement is gone with line 0."""
    if old == new:
        return breakpoints
    lines, texts = matched_lines(old, new), new.split("\n")
    after = []
    for its in breakpoints:
        if its.file == file and its.kind == "line":
            line, statement = line_after(lines, texts, its.line, its.statement)
            its = replace(its, line=line, statement=statement)
        after.append(its)
    return after


def described(its: Breakpoint) -> str:
    """A breakpoint in words, as it stands in a list."""
    return ("claim: " if its.claims else "") + _where(its) + _question(its) + _which(its)


def _where(its: Breakpoint) -> str:
    scope = "" if its.kind not in ("write", "change", "read") else f" in {its.function}" if its.function else ""
    scope += f", call {its.call}" if scope and its.call else ""
    words = {
        "line": f"line {its.line}" if its.line else f"gone: {its.statement}",
        "function": f"{'in' if its.claims else 'call of'} {its.name}",
        "exception": its.name or "any exception",
        "write": f"{its.name} is written",
        "change": f"{its.name} changes",
        "read": f"{its.name} is read",
        "everywhere": "everywhere" if its.claims else "as soon as",
    }
    return words[its.kind] + scope


def _question(its: Breakpoint) -> str:
    if not its.condition:
        return ""
    if its.claims:
        return f", {its.condition}"
    return f" {its.condition}" if its.kind == "everywhere" else f" where {its.condition}"


def _which(its: Breakpoint) -> str:
    if its.nth > 0:
        return f", time {its.nth} only"
    return f", every {its.every} times" if its.every > 1 else ""


def outcome(its: Breakpoint, found: Hits) -> str:
    """What came of a breakpoint, in words: its number of hits; of a claim, whether it held."""
    why = f" – {found.why}" if found.why else ""
    if its.is_gone:
        return "its statement is no longer in the text"
    if not its.on:
        return "off"
    if its.claims and len(found.steps):
        values = f": {found.values}" if found.values else ""
        return f"broken at step {int(found.steps[0]):,}{values} ({_times(len(found.steps))} in all){why}"
    if its.claims:
        return (f"always held (asked {_times(found.asked)})" if found.asked else "never tested") + why
    count = len(found.steps)
    word = "note" if its.note else "hit"
    if not count and found.asked:
        return f"reached {_times(found.asked)}, never true{why}"
    return (f"{count:,} {word}{'' if count == 1 else 's'}" if count else "never reached") + why


def _times(count: int) -> str:
    return "once" if count == 1 else f"{count:,} times"
