"""Differences of two runs in words."""

from __future__ import annotations

from eelgrass.reading.comparing.alignment import Alignment
from eelgrass.reading.comparing.differences import Apart, Kind
from eelgrass.reading.comparing.runs import Comparison, Difference
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.value_text import brief
from eelgrass.trace.values import NOT_SET

_MOST = 40


def sentence(a: Recording, b: Recording, its: Comparison) -> str:
    """What differs first."""
    if its.is_same:
        return f"The runs are the same: {its.aligned:,} steps, all values and the output."
    if its.value is not None and its.value.step_a >= 0 and its.value.step_b >= 0:
        return f"First at {value_words(a, b, its.value)}."
    if its.ends is not None and its.aligned:
        return f"The same way, {its.aligned:,} steps long; then one run {its.ends[0]}, the other {its.ends[1]}."
    if its.path is not None and its.path.step_a >= 0 and its.path.step_b >= 0:
        return (
            f"The runs part after line {a.trace.line_of(its.path.step_a)}, {its.aligned:,} steps from their beginning."
        )
    if its.output is not None and its.value is None and its.path is None:
        return f"Only the output differs, from character {its.output.character:,} on."
    return "The runs differ from their beginning."


def value_words(a: Recording, b: Recording, its: Difference) -> str:
    """A difference of value: where, of what, and both values."""
    told = [_brief(a, its.value_a, its.step_a), _brief(b, its.value_b, its.step_b)]
    lines = a.trace.line_of(its.step_a), b.trace.line_of(its.step_b)
    where = f"line {lines[0]}" if lines[0] == lines[1] else f"line {lines[0]}, there line {lines[1]}"
    return f"{where}: {its.what or 'an element'} is {told[0]}, and {told[1]} in the other run"


def apart_words(its: Apart, alignment: Alignment, here: str = "here", there: str = "there") -> str:
    """One difference in words: where, what, and both ways or values; `here` and `there` stand for the runs."""
    a, b = alignment.a, alignment.b
    line = f"line {a.trace.line_of(its.here)}" if its.here >= 0 else "the beginning"
    if its.kind == Kind.PATH and its.text_here:
        ends = (f"{its.text_here} {here}".strip(), f"{its.text_there} {there}")
        return f"{line}: the last in both; the run {', '.join(ends)}"
    if its.kind == Kind.PATH:
        more = [_more(its.more_here, here or "here"), _more(its.more_there, there)]
        return f"{line}: the ways part; {' and '.join(part for part in more if part)} follow"
    if its.kind == Kind.OUTPUT:
        told, what = [_short(text) for text in (its.text_here, its.text_there)], "prints"
    else:
        told = [_brief(a, its.value_here, its.when), _brief(b, its.value_there, its.when_there)]
        what = f"{its.what or 'an element'} is"
        if told[0] == told[1] and its.what_there not in ("", its.what):
            return f"{line}: {its.what} is {told[0]}, {there} {its.what_there} is"
        if told[0] == told[1]:
            return f"{line}: {what} {told[0]} in both, {_origins(its, alignment, here, there)}"
    values = f"{told[0]} {here}, {told[1]} {there}" if here else f"{told[0]}, {there} {told[1]}"
    return f"{line}: {what} {values}"


def _origins(its: Apart, alignment: Alignment, here: str, there: str) -> str:
    """Since when there have been the objects that are not the same one, though the same is in them; or into which the
    same is put."""
    told = []
    into = "in " if its.owner_here >= 0 else ""
    for run, value, owner in (
        (alignment.a, its.value_here, its.owner_here),
        (alignment.b, its.value_there, its.owner_there),
    ):
        number = owner if owner >= 0 else run.trace.values.object_of(value)
        first = int(run.trace.objects.first[number]) if number is not None else -1
        told.append(f"from line {run.trace.line_of(first)}" if first >= 0 else "of its own")
    return f"but {here or 'here'} {into}an object {told[0]}, {there} {into}one {told[1]}"


def _brief(run: Recording, number: int, step: int) -> str:
    return "nothing" if number == NOT_SET else brief(run.trace, number, step + 1)


def _more(count: int, where: str) -> str:
    return f"{count:,} {'step' if count == 1 else 'steps'} only {where}" if count else ""


def _short(text: str) -> str:
    if not text:
        return "nothing"
    told = repr(text.rstrip("\n"))
    return told if len(told) <= _MOST else told[: _MOST - 2] + "…" + told[0]
