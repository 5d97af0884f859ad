"""How two runs end, where that is not alike."""

from __future__ import annotations

from eelgrass.trace.model import Outcome, Trace


def other_ends(a: Trace, b: Trace) -> tuple[str, str] | None:
    """How each run ends, in words; nothing where both end alike, whatever an exception says."""
    found = _words(a.outcome), _words(b.outcome)
    return found if found[0] != found[1] else None


def _words(its: Outcome) -> str:
    match its.outcome:
        case "raised":
            name = (its.reason or "an exception").partition(":")[0].partition(",")[0]
            return f"ends with {name}"
        case "exited":
            return f"exits with status {its.exit_status}"
        case "stopped":
            return "is stopped"
        case _:
            return "comes to its end"
