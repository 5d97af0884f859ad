"""Passes of loops (need M3)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from eelgrass.reading.places import Places
from eelgrass.trace.columns import Ints, find
from eelgrass.trace.model import StepKind, Trace

LOOPS = ("for", "while", "asyncfor")


@dataclass(frozen=True)
class Pass:
    """Pass `number`, from 1, of `in_all`; at the visit that ends the loop, `number` is 0."""

    number: int
    in_all: int


def inside(trace: Trace, statement: int, loop: int) -> bool:
    """Whether a statement stands, at any depth, in the body of another."""
    while statement >= 0:
        around = trace.program.statements[statement].parent
        if around == loop:
            return trace.program.statements[statement].arm == 0
        statement = around
    return False


def pass_at(trace: Trace, places: Places, step: int) -> Pass | None:
    """Which pass begins at the visit `step` of a loop's header; None when the step is no such visit."""
    loop = int(trace.steps.statement[step])
    if loop < 0 or trace.steps.kind[step] != StepKind.LINE or trace.program.statements[loop].kind not in LOOPS:
        return None
    stops = places.stops_of(places.frame_of(step))
    statements = trace.steps.statement[stops]
    within = _inside_column(trace, statements, loop)
    headers = np.flatnonzero(statements == loop)
    here = find(stops[headers], step)
    enters = np.append(within, False)[headers + 1]  # a header's visit begins a pass when the body comes next
    comes_back = np.concatenate(([False], within))[headers]  # and continues a loop when the body came before
    first = here
    while first > 0 and comes_back[first]:
        first -= 1
    end = here + 1
    while end < len(headers) and comes_back[end]:
        end += 1
    passes = enters[first:end]
    return Pass(int(passes[: here - first + 1].sum()) if enters[here] else 0, int(passes.sum()))


def _inside_column(trace: Trace, statements: Ints, loop: int) -> npt.NDArray[np.bool_]:
    distinct, which = np.unique(statements, return_inverse=True)
    return np.array([inside(trace, number, loop) for number in distinct.tolist()], np.bool_)[which]
