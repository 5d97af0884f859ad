"""What an instructor plans in an exercise: places of a run at which to ask, to stop and talk, or to fill in a table.

A place is a visit of a line in a case. It is fastened to the line's statement, so that it survives changes of the text.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from pathlib import PurePath
from typing import Annotated, Literal, TypeVar

import msgspec
import numpy as np

from eelgrass.reading.alignment import line_after, matched_lines
from eelgrass.reading.recording import Recording
from eelgrass.trace.columns import Ints, find

#: What can be asked at a point; '' leaves it to the recording.
Ask = Literal["", "way", "passes", "value", "returns", "output", "line"]

_MOST_SIGNS = 200
_Count = Annotated[int, msgspec.Meta(ge=0)]
_NOWHERE = np.zeros(0, np.int32)


class PlannedPlace(msgspec.Struct, frozen=True, omit_defaults=True, forbid_unknown_fields=True, kw_only=True):
    """Visit `visit` (0: each one) of a line of the program as it is given, in the run of `case` ('': of any). `file` is
    another module's, relative to the program's folder. A `line` of 0 says that the statement is gone."""

    line: _Count
    statement: str = ""
    visit: _Count = 1
    case: str = ""
    file: str = ""


class PlannedQuestion(PlannedPlace, frozen=True, omit_defaults=True, forbid_unknown_fields=True, kw_only=True):
    """Where something is to be said first: what is asked, and, for a value, of which expression."""

    ask: Ask = ""
    name: str = ""


class RouteStop(PlannedPlace, frozen=True, omit_defaults=True, forbid_unknown_fields=True, kw_only=True):
    """A stop of the route, with what there is to say there, as Markdown."""

    say: str = ""


class DeskCheck(PlannedPlace, frozen=True, omit_defaults=True, forbid_unknown_fields=True, kw_only=True):
    """A trace table to fill in by hand: of the call that the place is in, or of the passes of its loop."""

    title: str = ""
    of: Literal["call", "passes"] = "passes"


SomePlace = TypeVar("SomePlace", bound=PlannedPlace)


def here(recording: Recording, step: int, case: str) -> PlannedPlace:
    """The place of a step."""
    module, line = recording.module_at(step), recording.trace.line_of(step)
    text = recording.trace.program.modules[module].lines
    visit = find(recording.visits.of_line(module, line), step + 1)
    return PlannedPlace(
        line=line,
        statement=text[line - 1].strip() if 0 < line <= len(text) else "",
        visit=max(visit, 1),
        case=case,
        file=_name(recording, module) if module else "",
    )


def steps_of(recording: Recording, place: PlannedPlace, given: str) -> Ints:
    """The steps of a recording that a place means; none where the run never came there. `given` is the program's text
    of which the place is, from which the recorded one may have come a long way."""
    module = _module(recording, place.file)
    if module < 0 or place.line < 1:
        return _NOWHERE
    line, source = place.line, recording.trace.program.modules[module].source
    if module == 0 and source != given:
        line = matched_lines(given, source).get(line, 0)
    visits = recording.visits.of_line(module, line)
    return visits if place.visit == 0 else visits[place.visit - 1 : place.visit]


def questions_in(
    recording: Recording, points: Iterable[PlannedQuestion], case: str, given: str
) -> dict[int, PlannedQuestion]:
    """The points that the run of a case comes to, by step."""
    return {
        int(step): point
        for point in points
        if point.case in ("", case)
        for step in steps_of(recording, point, given).tolist()
    }


def signs_in(
    recording: Recording, points: Iterable[PlannedQuestion], stops: Iterable[RouteStop], case: str, given: str
) -> list[tuple[int, str]]:
    """What is planned in the run of a case, as (step, signs): “?” for a prediction, the number of a stop."""
    found = dict.fromkeys(questions_in(recording, points, case, given), "?")
    for number, stop in enumerate(stops, 1):
        if stop.case in ("", case):
            for step in steps_of(recording, stop, given)[:1].tolist():
                found[step] = found.get(step, "") + str(number)
    return sorted(found.items())[:_MOST_SIGNS]


def signs_by_line(
    questions: Iterable[PlannedQuestion],
    stops: Iterable[RouteStop],
    desk_checks: Iterable[DeskCheck],
    file: str,
    on_view: Mapping[int, int],
) -> dict[int, str]:
    """For the lines of a module, a sign of what is planned there: “?” for a question, the number of a stop, “=” for a
    table. `on_view` says where each line of the text as given is now."""
    signs: list[tuple[PlannedPlace, str]] = [(its, "?") for its in questions]
    signs += [(its, "=") for its in desk_checks]
    signs += [(its, str(number)) for number, its in enumerate(stops, 1)]
    found: dict[int, str] = {}
    for place, sign in signs:
        line = on_view.get(place.line, 0) if place.file == file else 0
        if line:
            found[line] = found.get(line, "") + sign
    return found


def followed(places: Iterable[SomePlace], old: str, new: str, file: str = "") -> tuple[SomePlace, ...]:
    """The places in a module's changed text; those whose statement is gone with line 0."""
    lines, texts = matched_lines(old, new), new.split("\n")
    return tuple(_followed(place, lines, texts) if place.file == file else place for place in places)


def _followed(place: SomePlace, lines: dict[int, int], texts: list[str]) -> SomePlace:
    line, statement = line_after(lines, texts, place.line, place.statement)
    return msgspec.structs.replace(place, line=line, statement=statement)


def _module(recording: Recording, file: str) -> int:
    names = (_name(recording, module) for module in range(len(recording.trace.program.modules)))
    return 0 if not file else next((module for module, name in enumerate(names) if name == file), -1)


def _name(recording: Recording, module: int) -> str:
    """A module's file, relative to the program's folder where it is in that."""
    modules = recording.trace.program.modules
    file, folder = PurePath(modules[module].file), PurePath(modules[0].file).parent
    return (file.relative_to(folder) if file.is_relative_to(folder) else file).as_posix()
