"""Where a run stands, or stood when it ended."""

from __future__ import annotations

from pathlib import PurePath

from eelgrass.reading.recording import Recording
from eelgrass.reading.state.function_words import function_words


def standing_place(recording: Recording) -> str:
    """In words: line, module if there are several, and call."""
    trace, step = recording.trace, recording.stepping.last()
    function = trace.function_of_frame(recording.stepping.frame_of(step))
    told = f"at line {trace.line_of(step)}"
    if len(trace.program.modules) > 1:
        told += f" of {PurePath(trace.program.modules[function.module].file).name}"
    return told if function.kind == "module" else f"{told}, in {function_words(function.name)}"
