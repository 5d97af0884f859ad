"""Trails and what kept a line out, as plain data for JSON."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from eelgrass.export.json_rows import value
from eelgrass.reading.recording import Recording
from eelgrass.reading.trails.kept_out import KeptOut, value_of_decision
from eelgrass.reading.trails.moments import named
from eelgrass.reading.trails.sentences import Sentences
from eelgrass.reading.trails.trail import Trail
from eelgrass.trace.values import NOT_SET


def links(trail: Trail) -> Iterator[dict[str, Any]]:
    """The links of a trail in their order, as `docs/cli.md` has them."""
    recording = trail.recording
    sentences, trace = Sentences(recording), recording.trace
    for number in trail.walk():
        its = trail.links[number]
        place, frame = recording.place_at(its.step), recording.stepping.frame_of(its.step)
        what = f"line {trace.program.statements[its.statement].line}" if its.statement >= 0 else named(recording, its)
        yield {
            "link": number,
            "step": its.step,
            "file": place.file,
            "line": place.line,
            "function": trace.function_of_frame(frame).name,
            "kind": its.kind.value,
            "what": what,
            "value": None if its.value == NOT_SET else value(trace, its.value, max(its.seen, 0)),
            "text": sentences.of(its),
            "from": trail.opened(number),
        }


def kept_out(recording: Recording, its: KeptOut) -> dict[str, Any]:
    """What kept a line out, as `docs/cli.md` has it."""
    decision = None
    if its.decision:
        taken = value_of_decision(recording, its.step)
        parts = [{"text": part.text, "value": value(recording.trace, part.value, its.step)} for part in its.parts]
        decision = {
            "step": its.step,
            "line": recording.trace.line_of(its.step),
            "text": its.decision,
            "value": taken,
            "parts": parts,
        }
    return {"line": its.line, "visits": its.visits, "reason": its.reason.value, "decision": decision, "text": its.text}
