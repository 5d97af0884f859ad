"""What threads do as JSON, as `docs/cli.md` has it."""

from __future__ import annotations

from typing import Any

from eelgrass.reading.threads.locks import Lock
from eelgrass.reading.threads.waiting import Threads, ThreadState


def threads(told: Threads) -> dict[str, Any]:
    """One object: all threads, and the circle of a deadlock by their numbers."""
    return {
        "step": told.step,
        "threads": [_thread(its) for its in told.states],
        "deadlock": [told.states[place].its.thread for place in told.deadlock] or None,
        "text": told.text,
    }


def _thread(its: ThreadState) -> dict[str, Any]:
    return {
        "thread": its.its.thread,
        "name": its.its.name,
        "state": its.state,
        "file": its.file,
        "line": its.line,
        "waits_for": None if its.waits_for is None else _lock(its.waits_for),
        "holds": [_lock(held.lock) for held in its.holds],
    }


def _lock(its: Lock) -> dict[str, Any]:
    return {"object": its.object, "name": its.name, "kind": its.kind}
