"""Frames that something outside called, and why."""

from __future__ import annotations

import numpy as np

from eelgrass.trace.columns import find
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
