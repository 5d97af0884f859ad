"""Which thread is which: the objects that the program knows its threads by."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from eelgrass.reading.state import insides
from eelgrass.reading.state.call_stack import value_of_name
from eelgrass.trace.identities import thread_of_identity
from eelgrass.trace.model import Trace
from eelgrass.trace.values import NOT_SET, Ref

MAIN = "main"


@dataclass(frozen=True)
class ThreadName:
    """A thread by its number in the recording (-1: it never ran), its name, and its object (-1: not known)."""

    thread: int
    name: str
    object: int = -1


def thread_names(trace: Trace) -> list[ThreadName]:
    """The threads of a run in the order of their numbers, then those that were made and never ran."""
    objects = _thread_objects(trace)
    firsts = _first_frames(trace)
    found, used = [ThreadName(0, MAIN)] if firsts else [], set[int]()
    of_thread = {_identified(trace, number): number for number in objects}
    for thread, frame in list(firsts.items())[1:]:
        likely = (number for number in objects if number not in used and _runs(trace, number, frame))
        its = of_thread.get(thread, next(likely, -1))
        used.add(its)
        found.append(ThreadName(thread, objects.get(its, f"thread {thread}"), its))
    found += [ThreadName(-1, name, number) for number, name in objects.items() if number not in used]
    return found if len(trace.steps) else []


def _first_frames(trace: Trace) -> dict[int, int]:
    """By thread, the frame that it began with."""
    threads, rows = np.unique(trace.frames.thread, return_index=True)
    return dict(zip(threads.tolist(), rows.tolist(), strict=True))


def _thread_objects(trace: Trace) -> dict[int, str]:
    """The objects of threads, in the order in which they were made, with their names."""
    end = len(trace.steps)
    kinds, firsts = np.unique(trace.objects.type, return_index=True)  # one of each type says what all are
    wanted = [
        kind
        for kind, number in zip(kinds.tolist(), firsts.tolist(), strict=True)
        if trace.objects.shape_of(number) == "instance" and is_thread(trace, number)
    ]
    found = {}
    for number in np.flatnonzero(np.isin(trace.objects.type, wanted)).tolist():
        value = dict(insides.fields(trace, number, end)).get("_name", NOT_SET)
        name = trace.values.get(value) if value != NOT_SET else None
        if isinstance(name, str):
            found[number] = name
    return found


def _identified(trace: Trace, thread_object: int) -> int:
    """The number of the thread that an object stands for, by its identity; -1 where that does not say."""
    value = dict(insides.fields(trace, thread_object, len(trace.steps))).get("_ident", NOT_SET)
    return thread_of_identity(trace.values.get(value)) if value != NOT_SET else -1


def is_thread(trace: Trace, number: int) -> bool:
    """Whether an object is a thread, as the program has it."""
    keys = np.unique(trace.slots.key[trace.histories.of_object(number)]).tolist()
    names = [trace.values.get(key) for key in keys]
    return all(name in names for name in ("_name", "_target", "_started"))


def _runs(trace: Trace, thread_object: int, frame: int) -> bool:
    """Whether a thread with this object begins with a frame: of its own `run`, or of what it was given."""
    function, first = trace.function_of_frame(frame), int(trace.frames.first[frame])
    if function.params:
        given = trace.values.object_of(value_of_name(trace, frame, function.params[0], first + 1))
        if given == thread_object:
            return True
    target = trace.values.get(dict(insides.fields(trace, thread_object, first))["_target"])
    if not isinstance(target, Ref):
        return False
    known = trace.values.object_of(value_of_name(trace, frame, function.name, first))
    return known is None or known == target.number
