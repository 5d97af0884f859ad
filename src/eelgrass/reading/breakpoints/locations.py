"""The moments at which a breakpoint's question is asked: visits of a line, calls of a function, exceptions, writes,
changes and reads of a name, element or field."""

from __future__ import annotations

import ast
import builtins
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from eelgrass.parsing import parsed, parsed_expression
from eelgrass.reading.breakpoints.reads import steps_reading
from eelgrass.reading.expressions.expression import Expression
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording
from eelgrass.reading.state import value_text
from eelgrass.reading.state.insides import Spot
from eelgrass.reading.watches import watch
from eelgrass.trace.columns import Ints, distinct
from eelgrass.trace.histories import Part
from eelgrass.trace.model import Trace
from eelgrass.trace.program import Program

Kind = Literal["line", "function", "exception", "write", "change", "read", "everywhere"]
#: So many objects are looked through, at most, for what is held inside of a value.
_MOST_OBJECTS = 2_000


@dataclass(frozen=True)
class Location:
    """Where to ask. `line`: at the visits of a line. `function`: where the function `name` (with its classes and outer
    functions before it, as `Crab.move`) begins. `exception`: where one of the type `name`, or of a type derived from
    it, is raised; '' for any. `write`, `change`, `read`: where a name, element or field, as `stock[2]` or
    `crab.place`, is written, takes another value, or is read; the name being one of `function` ('': the module), in
    all of its calls or only in the `call`th. `everywhere`: whenever the answer can have changed."""

    file: str
    kind: Kind
    line: int = 0
    name: str = ""
    function: str = ""
    call: int = 0


@dataclass(frozen=True)
class Moments:
    """Steps, in order, with the frames to ask in; and in words why there are not more, or ''."""

    steps: Ints
    frames: Ints
    why: str = ""


def moments_of(
    recording: Recording, place: Location, asked: Expression, whole_calls: bool, progress: Progress | None = None
) -> Moments:
    """The moments at which to ask at a place; with `whole_calls`, at every step of a function's calls."""
    trace = recording.trace
    files = [module.file for module in trace.program.modules]
    if place.kind == "everywhere":
        return Moments(*watch.moments(recording, asked))
    if place.kind == "exception":
        return _at(recording, _raised(recording, place.name))
    if place.file not in files:
        return _at(recording, [], "its file was not part of this run")
    if place.kind == "line":
        return _at(recording, recording.visits.of_line(files.index(place.file), place.line))
    if place.kind == "function":
        frames = _frames_of(trace, files.index(place.file), place.name)
        if frames is None:
            return _at(recording, [], f"There is no function “{place.name}”.")
        stops = recording.stepping.stops
        if whole_calls:
            return _at(recording, stops[np.isin(trace.steps.frame[stops], frames)])
        first = stops[np.minimum(stops.searchsorted(trace.frames.first[frames]), len(stops) - 1)]
        return _at(recording, first[trace.steps.frame[first] == frames])
    return _of_slots(recording, place, files.index(place.file), progress)


def _at(recording: Recording, steps: Ints | list[int], why: str = "") -> Moments:
    its = distinct(np.array(steps, np.int64))
    return Moments(its, recording.trace.steps.frame[its], why)


def qualified_name(program: Program, function: int) -> str:
    """A function's name with those of the classes and functions around it; '' for a module."""
    names: list[str] = []
    while function >= 0 and program.functions[function].kind != "module":
        names.append(program.functions[function].name)
        function = program.functions[function].parent
    return ".".join(reversed(names))


def _frames_of(trace: Trace, module: int, name: str) -> Ints | None:
    """The frames of a function, in order; None when the text has none of that name."""
    program = trace.program
    numbers = [
        number
        for number, its in enumerate(program.functions)
        if its.module == module and qualified_name(program, number) == name
    ]
    return np.flatnonzero(np.isin(trace.frames.function, numbers)) if numbers else None


# Exceptions


def _raised(recording: Recording, name: str) -> list[int]:
    parents = _class_parents(recording.trace.program)
    ways = recording.exceptions
    return [way.stations[0].step for way in ways if not name or _is_kind_of(way.type, name, parents)]


def _is_kind_of(type_: str, name: str, parents: dict[str, list[str]], depth: int = 0) -> bool:
    """Whether an exception's type is `name` or derived from it, as the program's text and Python's own types tell."""
    if type_ == name:
        return True
    own, other = getattr(builtins, type_, None), getattr(builtins, name, None)
    if isinstance(own, type) and isinstance(other, type) and type_ not in parents:
        return issubclass(own, other)
    return depth < 50 and any(_is_kind_of(parent, name, parents, depth + 1) for parent in parents.get(type_, []))


def _class_parents(program: Program) -> dict[str, list[str]]:
    found: dict[str, list[str]] = {}
    for module in program.modules:
        try:
            tree = parsed(module.source)
        except (SyntaxError, ValueError, RecursionError, MemoryError):
            continue
        for node in ast.walk(tree):
            if isinstance(node, ast.ClassDef):
                found[node.name] = [base.id for base in node.bases if isinstance(base, ast.Name)]
    return found


# Names, elements and fields


def _of_slots(recording: Recording, place: Location, module: int, progress: Progress | None) -> Moments:
    trace = recording.trace
    frames = _frames_of(trace, module, place.function)
    if frames is None:
        return _at(recording, [], f"There is no function “{place.function}”.")
    frames = frames[place.call - 1 : place.call] if place.call else frames
    try:
        spots = spots_of_path(trace, frames, place.name)
    except ValueError:
        return _at(recording, [], f"“{place.name}” is no name, element or field.")
    if not spots:
        return _at(recording, [], f"There is no “{place.name}” in this run.")
    if place.kind == "read":
        steps, is_whole = steps_reading(recording, spots, place.name, progress)
        return _at(recording, steps, "" if is_whole else "Only the first visits were looked at.")
    steps = _written(trace, spots) if place.kind == "write" else _changed(trace, spots)
    stops = recording.stepping.stops
    return _at(recording, stops[np.minimum(stops.searchsorted(steps[steps >= 0]), len(stops) - 1)])


def spots_of_path(trace: Trace, frames: Ints, path: str) -> list[Spot]:
    """What a name of some frames, or an element or field of what it ever held, means. Raises ValueError for a text that
    is no such path."""
    try:
        tree = parsed_expression(path.strip())
    except SyntaxError as error:
        raise ValueError(path) from error
    return list(dict.fromkeys(_spots(trace, frames, tree)))


def _spots(trace: Trace, frames: Ints, node: ast.expr) -> Iterator[Spot]:
    if isinstance(node, ast.Name):
        owners, slots = trace.histories.of_name(trace.values.number_of_text(node.id))
        yield from slots[np.isin(owners, frames)].tolist()
        return
    if isinstance(node, ast.Attribute):
        part, key, plain = Part.FIELD, trace.values.number_of_text(node.attr), None
    elif isinstance(node, ast.Subscript):
        plain = ast.literal_eval(node.slice)
        part, key = Part.ITEM, trace.values.number_of(plain)
    else:
        raise ValueError(ast.unparse(node))
    for number in _objects_held(trace, list(_spots(trace, frames, node.value))):
        if part == Part.ITEM and number in trace.cells:
            if type(plain) is int and plain >= 0:
                yield number, plain
            continue
        its = trace.histories.of_object(number)
        yield from its[(trace.slots.key[its] == key) & (trace.slots.part[its] == part)].tolist()


def _course(trace: Trace, spot: Spot) -> tuple[Ints, Ints]:
    """(steps, values) of all that was written at a spot."""
    return trace.cells.course(*spot) if isinstance(spot, tuple) else trace.histories.columns_of(spot)


def _objects_held(trace: Trace, spots: list[Spot]) -> list[int]:
    """The objects that there ever were at some spots."""
    held: set[int] = set()
    for spot in spots:
        for value in np.unique(_course(trace, spot)[1]).tolist():
            number = trace.values.object_of(value)
            if number is not None and len(held) < _MOST_OBJECTS:
                held.add(number)
    return sorted(held)


def _written(trace: Trace, spots: list[Spot]) -> Ints:
    return np.concatenate([_course(trace, spot)[0] for spot in spots]).astype(np.int64)


def _changed(trace: Trace, spots: list[Spot]) -> Ints:
    """The steps during which there came another value, or something inside of a list, dictionary or set changed."""
    found: list[Ints] = []
    waiting, seen = list(spots), set[int]()
    while waiting:
        spot = waiting.pop()
        steps, held = _course(trace, spot)
        found.append(steps[np.append(True, held[1:] != held[:-1])[: len(steps)]].astype(np.int64))
        for number in _objects_held(trace, [spot]):
            if number not in seen and len(seen) < _MOST_OBJECTS and value_text.is_literal(trace, number):
                seen.add(number)
                waiting += trace.histories.of_object(number).tolist()
    return np.concatenate(found)
