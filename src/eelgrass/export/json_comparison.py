"""The comparison of two runs, as plain data for JSON."""

from __future__ import annotations

from typing import Any

from eelgrass.export.json_rows import value
from eelgrass.reading.comparing.runs import Comparison, Difference
from eelgrass.reading.comparing.sentences import sentence
from eelgrass.reading.recording import Recording
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
