"""Frames that something outside called, and why."""

from __future__ import annotations

import numpy as np

from eelgrass.trace.columns import Ints, find
from eelgrass.trace.model import Texts, Trace


def caused_frames(trace: Trace) -> list[tuple[int, str]]:
    """The frames that something outside called, each with why, in order."""
    found: dict[int, str] = {}
    for row in np.flatnonzero(trace.texts.channel == Texts.CAUSE).tolist():
        at_once = int(trace.texts.step[row]) + 1
        frame = find(trace.frames.first, at_once)
        if frame < len(trace.frames) and trace.frames.first[frame] == at_once:  # else it was the library's own
            found[frame] = trace.texts.pieces[row]
    return sorted(found.items())


def numbers_of_calls(trace: Trace) -> Ints:
    """For each frame, the how many-th call of its function it is, from 1."""
    order = np.argsort(trace.frames.function, kind="stable")
    functions = trace.frames.function[order]
    numbers = np.empty(len(order), np.int32)
    numbers[order] = np.arange(len(order)) - np.searchsorted(functions, functions) + 1
    return numbers
