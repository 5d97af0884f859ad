"""Clues, and what the text states itself, as JSON, as `docs/cli.md` has it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

from eelgrass.reading.breakpoints.breakpoint import described, hits
from eelgrass.reading.clues.clue import Clue
from eelgrass.reading.recording import Recording
from eelgrass.reading.stated.stated_claims import stated_claims
from eelgrass.trace.model import Trace


def clues(trace: Trace, found: Iterable[Clue]) -> Iterator[dict[str, Any]]:
    """One object a clue, in the order given."""
    for its in found:
        evidence = [{"step": one.step, "line": trace.line_of(one.step), "text": one.text} for one in its.evidence]
        yield {
            "kind": its.kind,
            "file": its.file,
            "line": its.line,
            "step": its.step,
            "strength": its.strength,
            "text": its.text,
            "evidence": evidence,
        }


def stated(recording: Recording) -> Iterator[dict[str, Any]]:
    """One object for each claim that the text makes itself, with the first step at which it is broken, if it is."""
    for its in stated_claims(recording.trace):
        found = hits(recording, its.claim)
        yield {
            "file": its.claim.file,
            "line": its.line,
            "said": its.said,
            "claim": its.claim.condition,
            "where": described(its.claim),
            "held": not len(found.steps) if found.asked else None,
            "broken_at": int(found.steps[0]) if len(found.steps) else None,
        }
