"""The comparison of two runs, as plain data for JSON."""

from __future__ import annotations

from typing import Any

from eelgrass.export.json_rows import value
from eelgrass.reading.comparing.runs import Comparison, Difference
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.value_text import brief
from eelgrass.trace.values import NOT_SET


def comparison(a: Recording, b: Recording, its: Comparison) -> dict[str, Any]:
    """The first differences, as `docs/cli.md` has them."""
    output = None
    if its.output is not None:
        out = its.output
        output = {
            "character": out.character,
            "a": out.text_a,
            "b": out.text_b,
            "step_a": out.step_a,
            "step_b": out.step_b,
        }
    return {
        "path": _difference(a, b, its.path),
        "value": _difference(a, b, its.value),
        "output": output,
        "aligned_steps": its.aligned,
        "text": sentence(a, b, its),
    }


def _difference(a: Recording, b: Recording, its: Difference | None) -> dict[str, Any] | None:
    if its is None:
        return None
    return {
        "a": _moment(a, its.step_a),
        "b": _moment(b, its.step_b),
        "what": its.what or None,
        "value_a": _value(a, its.value_a, its.step_a),
        "value_b": _value(b, its.value_b, its.step_b),
    }


def _moment(recording: Recording, step: int) -> dict[str, Any] | None:
    if step < 0:
        return None
    place, frame = recording.place_at(step), recording.stepping.frame_of(step)
    function = recording.trace.function_of_frame(frame).name
    return {"step": step, "file": place.file, "line": place.line, "function": function}


def _value(recording: Recording, number: int, step: int) -> dict[str, Any] | None:
    return None if number == NOT_SET else value(recording.trace, number, max(step, 0) + 1)


def sentence(a: Recording, b: Recording, its: Comparison) -> str:
    """What differs first, in words."""
    if its.is_same:
        return f"The runs are the same: {its.aligned:,} steps, all values and the output."
    value_, path = its.value, its.path
    if value_ is not None and value_.step_a >= 0 and value_.step_b >= 0:
        told = [
            "nothing" if number == NOT_SET else brief(run.trace, number, step + 1)
            for run, number, step in ((a, value_.value_a, value_.step_a), (b, value_.value_b, value_.step_b))
        ]
        lines = a.trace.line_of(value_.step_a), b.trace.line_of(value_.step_b)
        where = f"line {lines[0]}" if lines[0] == lines[1] else f"line {lines[0]}, there line {lines[1]}"
        return f"First at {where}: {value_.what or 'an element'} is {told[0]}, and {told[1]} in the other run."
    if path is not None and path.step_a >= 0 and path.step_b >= 0:
        return f"The runs part after line {a.trace.line_of(path.step_a)}, {its.aligned:,} steps from their beginning."
    if its.output is not None and value_ is None and path is None:
        return f"Only the output differs, from character {its.output.character:,} on."
    return "The runs differ from their beginning."
