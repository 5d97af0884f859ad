"""The ways of exceptions through the call frames: raised where, through which frames, caught or not."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
import numpy.typing as npt

from eelgrass.reading.state import insides, value_text
from eelgrass.reading.stepping.stepping import Stepping
from eelgrass.trace.columns import between, find
from eelgrass.trace.model import Texts, Trace
from eelgrass.trace.values import NOT_SET, Ref

_NEAR = 16  # stops that are looked at at first
_HANDLER = 2


@dataclass(frozen=True)
class Station:
    """One frame on the way: at which step it was reached, the line of the text that the exception came through, and
    whether it was caught here."""

    frame: int
    step: int
    line: int
    caught: bool


@dataclass(frozen=True)
class ExceptionPath:
    """One way of one exception, from the frame that raised it outwards; `value` is its value number. What takes a while
    is found when it is asked for: a run may raise a hundred thousand."""

    value: int
    type: str
    stations: list[Station]
    _message: Callable[[], str] = field(repr=False, compare=False)
    _is_shown: Callable[[], bool] = field(repr=False, compare=False)

    @cached_property
    def message(self) -> str:
        """What would be printed after its type."""
        return self._message()

    @cached_property
    def is_shown(self) -> bool:
        """Whether the program said anything about it: it went through to the end, was raised again, or the handler that
        caught it printed something."""
        return self._is_shown()

    @property
    def is_caught(self) -> bool:
        """Whether a handler of the program took it."""
        return self.stations[-1].caught

    @property
    def is_silenced(self) -> bool:
        """Whether it was caught, and nothing was ever said of it."""
        return self.is_caught and not self.is_shown


def exception_paths(trace: Trace, stepping: Stepping) -> list[ExceptionPath]:
    """Every exception's ways, in the order in which they began. An exception that a handler raises again begins
    another way there."""
    ways: list[list[int]] = []
    open_ways: dict[int, list[int]] = {}
    raises = trace.raises
    for row, (value, caught) in enumerate(zip(raises.value.tolist(), raises.caught.tolist(), strict=True)):
        if value not in open_ways:
            open_ways[value] = []
            ways.append(open_ways[value])
        open_ways[value].append(row)
        if caught:
            del open_ways[value]
    in_handler = _handler_statements(trace)
    return [_exception_path(trace, stepping, way, in_handler) for way in ways]


def _exception_path(
    trace: Trace, stepping: Stepping, rows: list[int], in_handler: npt.NDArray[np.bool_]
) -> ExceptionPath:
    raises = trace.raises
    value = int(raises.value[rows[0]])
    stations = [
        Station(
            int(trace.steps.frame[raises.step[row]]),
            int(raises.step[row]),
            int(raises.line[row]) or trace.line_of(int(raises.step[row])),
            bool(raises.caught[row]),
        )
        for row in rows
    ]
    last = stations[-1]
    return ExceptionPath(
        value,
        _type_of(trace, value),
        stations,
        lambda: message(trace, value, last.step),
        lambda: not last.caught or _says_something(trace, stepping, last, in_handler),
    )


def _type_of(trace: Trace, value: int) -> str:
    return value_text.type_name(trace, value) if value != NOT_SET else "exception"


def message(trace: Trace, value: int, step: int) -> str:
    """The arguments of an exception, as text: what would be printed after its type."""
    got = trace.values.get(value) if value != NOT_SET else None
    if not isinstance(got, Ref):
        return ""
    arguments = [value for _, value in insides.items(trace, got.number, step)]
    if len(arguments) == 1:
        only = trace.values.get(arguments[0])
        quoted = _type_of(trace, value) == "KeyError"  # which prints the key as it is written
        return only if isinstance(only, str) and not quoted else value_text.text(trace, arguments[0], step)
    return ", ".join(value_text.text(trace, argument, step) for argument in arguments)


def _says_something(trace: Trace, stepping: Stepping, station: Station, in_handler: npt.NDArray[np.bool_]) -> bool:
    """Whether, while the handler that caught an exception is at work, something is printed by whomever, or the handler
    itself is left by an exception."""
    end = _left(trace, stepping, station, in_handler)
    channels = trace.texts.channel[between(trace.texts.step, station.step, end)]
    printed = (channels > Texts.TYPED) & (channels <= Texts.PICTURE)
    rows = between(trace.raises.step, station.step + 1, end + 1)
    raised = (trace.steps.frame[trace.raises.step[rows]] == station.frame) & (trace.raises.caught[rows] == 0)
    return bool(printed.any() or raised.any())


def _left(trace: Trace, stepping: Stepping, station: Station, in_handler: npt.NDArray[np.bool_]) -> int:
    """The step at which a handler is left: looked for further and further on, since most are left soon."""
    stops = stepping.stops_of(station.frame)
    begin, length = find(stops, station.step + 1), _NEAR
    while begin < len(stops):
        near = stops[begin : begin + length]
        outside = np.flatnonzero(~in_handler[trace.steps.statement[near]])
        if len(outside):
            return int(near[outside[0]])
        begin, length = begin + length, 2 * length
    last = int(trace.frames.last[station.frame])
    return last if last >= 0 else len(trace.steps)


def _handler_statements(trace: Trace) -> npt.NDArray[np.bool_]:
    """By statement, and False for none: whether it stands in a handler."""
    table: list[bool] = []
    for statement in trace.program.statements:  # what is around comes first
        around = statement.parent
        table.append(around >= 0 and (statement.arm == _HANDLER or table[around]))
    return np.array([*table, False], np.bool_)
