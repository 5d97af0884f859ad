"""What was true just before a step: call frames, scopes, names and their values."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

from eelgrass.reading.state.name_lookup import NO_SLOT, owner_of, slot_of
from eelgrass.trace.columns import find
from eelgrass.trace.model import FrameEnd, StepKind, Trace
from eelgrass.trace.values import NOT_SET


class Binding(NamedTuple):
    """A name in a scope. `value` is a value number; NOT_SET where the name is not yet assigned or, with `deleted`,
    has been deleted. `slot` is -1 when the name is never written in the recording."""

    name: str
    value: int
    slot: int
    deleted: bool = False


@dataclass(frozen=True)
class Scope:
    """The names of one kind in a frame: "parameters", "local", "enclosing", "class" or "module"."""

    title: str
    bindings: list[Binding]


@dataclass(frozen=True)
class FrameState:
    """A frame on the call stack. `step` is where it stands: the shown step for the innermost frame, for the others
    the step whose call they wait for. `returns` is the value number that it is about to hand back, or NOT_SET."""

    frame: int
    function: str
    depth: int
    step: int
    line: int
    scopes: list[Scope]
    returns: int = NOT_SET


def stack_at(trace: Trace, step: int) -> list[tuple[int, int]]:
    """The call stack just before `step`, outermost first, as (frame, the step at which it stands)."""
    stack: list[tuple[int, int]] = []
    stretches = trace.stretches
    frame, place = int(trace.steps.frame[step]), step
    while frame >= 0 and len(stack) <= len(trace.frames):
        stack.append((frame, place))
        row = stretches.row_at(frame, place)
        frame, place = int(stretches.caller[row]), int(stretches.call_step[row])
    return stack[::-1]


def frames_at(trace: Trace, step: int) -> list[FrameState]:
    """The call stack just before `step`, outermost first, with all names. Raises IndexError for a step that is not
    in the recording."""
    if not 0 <= step < len(trace.steps):
        raise IndexError(f"there is no step {step}")
    return [frame_state(trace, frame, place, step) for frame, place in stack_at(trace, step)]


def frame_state(trace: Trace, frame: int, place: int, step: int) -> FrameState:
    """One frame of the stack that `stack_at` gives, as it is just before `step`."""
    returning = trace.steps.kind[step] == StepKind.RETURN and place == step
    value = handed_back(trace, frame, step) if returning else NOT_SET
    return FrameState(
        frame,
        trace.function_of_frame(frame).name,
        int(trace.depths[frame]),
        place,
        trace.line_of(place),
        scopes_at(trace, frame, step),
        value,
    )


def handed_back(trace: Trace, frame: int, step: int) -> int:
    """The value that a frame hands back at its RETURN step `step`: what it returns, or what it yields; NOT_SET where
    that is not known, as of what `yield from` takes from something that is not the program's own."""
    if int(trace.frames.last[frame]) == step:
        return int(trace.frames.value[frame]) if trace.frames.end[frame] == FrameEnd.RETURNED else NOT_SET
    row = find(trace.results.step, step)
    here = row < len(trace.results.step) and trace.results.step[row] == step and trace.results.frame[row] == frame
    value = int(trace.results.value[row]) if here else NOT_SET
    if value == NOT_SET or trace.values.get(value) is not None:
        return value
    # Nothing is told of what comes from elsewhere, which is recorded as None.
    kind = trace.program.expressions[int(trace.results.expression[row])].kind
    return NOT_SET if kind in ("yieldfrom", "await") else value


def scopes_at(trace: Trace, frame: int, step: int) -> list[Scope]:
    """A frame's scopes just before `step`; those without names are left out."""
    function = trace.function_of_frame(frame)
    bound = {binding.name: binding for binding in bindings_of(trace, frame, step)}
    names = {name: bound.get(name) or Binding(name, NOT_SET, -1) for name in function.local} | bound
    params = [names.pop(name) for name in function.params if name in names]
    title = {"module": "module", "class": "class"}.get(function.kind, "local")
    scopes = [Scope("parameters", params), Scope(title, list(names.values()))]
    if function.free:
        scopes.append(Scope("enclosing", [enclosing_binding(trace, frame, name, step) for name in function.free]))
    return [scope for scope in scopes if scope.bindings]


def bindings_of(trace: Trace, frame: int, step: int) -> list[Binding]:
    """The names that the frame has held at some time before `step`, in the order of their first writes in the run."""
    slots = trace.histories.of_frame(frame)
    values, written = trace.histories.look(slots, step)
    its, name = slots[written], trace.values.get
    rows = zip(trace.slots.key[its].tolist(), values[written].tolist(), its.tolist(), strict=True)
    return [Binding(str(name(key)), value, slot, value == NOT_SET) for key, value, slot in rows]


def enclosing_binding(trace: Trace, frame: int, name: str, step: int) -> Binding:
    """What a name of an enclosing function holds for `frame`."""
    holder = owner_of(trace, frame, name)
    found = (binding for binding in bindings_of(trace, holder, step) if binding.name == name) if holder >= 0 else ()
    return next(iter(found), Binding(name, NOT_SET, -1))


def value_of_name(trace: Trace, frame: int, name: str, step: int) -> int:
    """The value number that a name has for a frame just before `step`; NOT_SET when it has none."""
    slot = slot_of(trace, frame, name)
    return trace.histories.value_at(slot, step) if slot != NO_SLOT else NOT_SET


def class_of(trace: Trace, number: int, frame: int, step: int) -> int | None:
    """The number of an instance's class, as far as a name that `frame` sees leads to it; else None."""
    value = value_of_name(trace, frame, trace.objects.type_of(number), step)
    found = trace.values.object_of(value)
    return found if found is not None and trace.objects.shape_of(found) == "class" else None
