"""Which slots a name means, looked up as Python does (but for built-in names): in the frame, in enclosing functions, in
the module. For one frame, or for many at once."""

from __future__ import annotations

import numpy as np

from eelgrass.trace.columns import Ints, numbered
from eelgrass.trace.model import Trace
from eelgrass.trace.program import Program

#: A name has no slot: it is never written where it would be looked up.
NO_SLOT = -1
_ENCLOSING = ("function", "comprehension")


def slot_of(trace: Trace, frame: int, name: str) -> int:
    """The slot that a name means in a frame, or NO_SLOT."""
    return trace.histories.of_name_in(owner_of(trace, frame, name), trace.values.number_of_text(name))


def slots_of(trace: Trace, frames: Ints, name: str) -> Ints:
    """The slots that a name means in each of some frames; NO_SLOT where it means none."""
    distinct, which = numbered(frames)
    owners = distinct.astype(np.int64)
    functions = trace.frames.function[distinct]
    for number in np.unique(functions).tolist():
        its = functions == number
        if not _is_own(trace.program, number, name):
            some = distinct[its].tolist()
            if name in trace.program.functions[number].free:
                owners[its] = [_enclosing_frame(trace, frame, name) for frame in some]
            else:
                owners[its] = module_frame(trace, number, some[0])
    held_by, slots = trace.histories.of_name(trace.values.number_of_text(name))
    places = np.minimum(held_by.searchsorted(owners), max(len(held_by) - 1, 0))
    found = np.full(len(owners), NO_SLOT, np.int64) if not len(held_by) else slots[places].astype(np.int64)
    if len(held_by):
        found[held_by[places] != owners] = NO_SLOT
    return found[which]


def owner_of(trace: Trace, frame: int, name: str) -> int:
    """The frame whose name it is that `frame` sees, or -1."""
    number = int(trace.frames.function[frame])
    if _is_own(trace.program, number, name):
        return frame
    if name in trace.program.functions[number].free:
        return _enclosing_frame(trace, frame, name)
    return module_frame(trace, number, frame)


def owning_function(program: Program, function: int, name: str) -> int:
    """The function of the text whose name it is that `function` sees, or -1."""
    if _is_own(program, function, name):
        return function
    if name in program.functions[function].free:
        return _enclosing_function(program, function, name)
    return _module_function(program, function)


def _is_own(program: Program, function: int, name: str) -> bool:
    its = program.functions[function]
    return name not in its.free and (name in its.local or its.kind == "module")


def module_frame(trace: Trace, function: int, otherwise: int) -> int:
    """The frame of the module that a function's text stands in; `otherwise` where it has none."""
    return trace.first_frames.get(_module_function(trace.program, function), otherwise)


def _module_function(program: Program, function: int) -> int:
    wanted = program.functions[function].module
    return next(number for number, its in enumerate(program.functions) if its.kind == "module" and its.module == wanted)


def _enclosing_function(program: Program, function: int, name: str) -> int:
    functions = program.functions
    number = functions[function].parent
    while number >= 0 and not (functions[number].kind in _ENCLOSING and name in functions[number].local):
        number = functions[number].parent
    return number


def _enclosing_frame(trace: Trace, frame: int, name: str) -> int:
    number = _enclosing_function(trace.program, int(trace.frames.function[frame]), name)
    holder = trace.holder(frame, number)
    if holder < 0:  # a closure of another kind than the recorder follows: the latest frame is the best guess
        holder = int(np.append(-1, np.flatnonzero(trace.frames.function[:frame] == number))[-1])
    return holder
