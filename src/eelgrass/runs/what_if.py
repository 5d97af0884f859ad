"""What if: the program of a recording runs again as it did, up to a step at which something gets another value, and
goes on from there. What comes of it is a recording of its own."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import msgspec
import numpy as np

from eelgrass.recorder.order import Setting
from eelgrass.runs.order import MAX_STEPS, OWN_FOLDER, Leave, Order
from eelgrass.runs.repeating import SideRunError, again, lines_typed_in
from eelgrass.runs.run import Listener, Run
from eelgrass.trace.model import StepKind, Texts, Trace

#: A what-if may take so many times the steps of the recording, or the usual number.
_LONGER = 2
OTHER_WAY = "The run came to step {0:,} another way than the recording, so nothing was set."


def settings_of(trace: Trace) -> tuple[Setting, ...]:
    """What was set in a recording, which is one of a what-if; empty for any other, and where it cannot be read."""
    told = trace.case.get("what_if")
    try:
        return tuple(msgspec.convert(told, list[Setting])) if told is not None else ()
    except msgspec.ValidationError:
        return ()


#: What gets another value: how many calls further out, the frame whose name it is (-1: none), target and expression.
Wanted = tuple[int, int, str, str]


def order_of(trace: Trace, step: int, wanted: Sequence[Wanted], leave: Leave | None = OWN_FOLDER) -> Order:
    """The order to run a recording again with settings before a step, after those that it has. Raises SideRunError."""
    if trace.steps.kind[step] != StepKind.LINE:
        raise SideRunError("A value can be set where a statement is about to run; at this step none is.")
    made = settings_of(trace)
    if made and step < made[-1].step:
        raise SideRunError("This recording is a what-if itself: only after what was set in it can more be set.")
    settings = (*made, *(Setting(step, *its) for its in wanted))
    return replace(again(trace, leave), settings=settings, max_steps=max(MAX_STEPS, _LONGER * len(trace.steps)))


class WhatIf(Run):
    """The run of such an order, beside the recording that it departs from."""

    def __init__(self, order: Order, before: Trace, on_waiting: Listener | None = None) -> None:
        super().__init__(order, on_waiting)
        self._before = before

    def _on_answer(self) -> None:
        """The program has come to a step before which something is set: it has to be the same step."""
        come = self._builder.trace()
        if not has_begun_alike(self._before, come):
            self._break_off(OTHER_WAY.format(len(come.steps)))


def begun_what_if(
    trace: Trace,
    step: int,
    wanted: Sequence[Wanted],
    on_waiting: Listener | None = None,
    leave: Leave | None = OWN_FOLDER,
) -> WhatIf:
    """The run of a recording in which something is set before a step, begun, with what was typed typed again;
    `on_waiting` is called when it waits for more than that. Raises SideRunError and CannotRunError."""
    lines, is_all = lines_typed_in(trace)
    left = len(lines)

    def waits(come: Trace) -> None:
        nonlocal left
        left -= 1
        if left < 0 and on_waiting is not None:
            on_waiting(come)

    run = WhatIf(order_of(trace, step, wanted, leave), trace, on_waiting=waits)
    run.start()
    for line in lines:
        run.type_line(line)
    if is_all:
        run.end_input()
    return run


def has_begun_alike(before: Trace, come: Trace) -> bool:
    """Whether a run that has come so far went the way of a recording, and printed what it did."""
    count = len(come.steps)
    for name in ("statement", "frame", "kind"):
        if not np.array_equal(getattr(before.steps, name)[:count], getattr(come.steps, name)):
            return False
    printed, shown = (its.texts.of(Texts.OUTPUT, Texts.ERRORS, before=count - 1) for its in (before, come))
    return "".join(printed) == "".join(shown)


def what_is_missing(run: WhatIf, trace: Trace) -> str:
    """Why a run that has ended is no what-if, in a sentence; '' where it is."""
    last = run.order.settings[-1].step
    if trace.outcome.outcome == "stopped":
        return trace.outcome.reason or ""
    return "" if len(trace.steps) > last else OTHER_WAY.format(last)
