"""The plan of an exercise that is being made: what is said first, the route, tables to fill in by hand."""

from __future__ import annotations

from typing import Any

import msgspec

from eelgrass.desktop.activities.authoring import Authoring
from eelgrass.desktop.activities.navigator import Navigator
from eelgrass.desktop.services.messages import Messages
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session_parts import SessionParts
from eelgrass.desktop.workspace.running.launch import Launch
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.lessons.exercises.plan import (
    Ask,
    DeskCheck,
    PlannedPlace,
    PlannedQuestion,
    RouteStop,
    here,
    signs_by_line,
)
from eelgrass.reading.alignment import matched_lines
from eelgrass.reading.tables import trace_table as tables


class PlanAuthoring:
    """Plans at the shown step; what comes of it is the exercise's."""

    def __init__(
        self,
        authoring: Authoring,
        parts: SessionParts,
        workspace: Workspace,
        launch: Launch,
        navigator: Navigator,
        messages: Messages,
    ) -> None:
        self._authoring = authoring
        self._session = parts.session
        self._texts = parts.texts
        self._workspace = workspace
        self._launch = launch
        self._navigator = navigator
        self._messages = messages

    def planned(self, file: str) -> dict[int, str]:
        """By line of a text, a sign of what is planned there."""
        exercise, name = self._authoring.exercise, self._workspace.name_of(file)
        if exercise is None:
            return {}
        on_view = matched_lines(self._authoring.text_as_given(name), self._authoring.text_on_view(name))
        return signs_by_line(exercise.points, exercise.stops, exercise.desk_checks, name, on_view)

    def _here(self, every: bool = False) -> PlannedPlace | None:
        recording = self._session.recording
        if recording is None or self._authoring.exercise is None or self._texts.lent is not None:
            return None
        is_own = any(case.name == self._launch.case.name for case in self._authoring.exercise.cases)
        place = here(recording, self._session.step, self._launch.case.name if is_own and not every else "")
        return msgspec.structs.replace(place, visit=0) if every else place

    def add_point(self, ask: Ask, name: str, every: bool) -> None:
        """Something is to be said first at the shown step, or at every visit of its line."""
        place = self._here(every)
        if place is not None and self._authoring.exercise is not None:
            self._authoring.put(
                points=(*self._authoring.exercise.points, PlannedQuestion(**_fields(place), ask=ask, name=name))
            )

    def add_stop(self) -> None:
        """The route stops at the shown step, too."""
        place = self._here()
        if place is not None and self._authoring.exercise is not None:
            self._authoring.put(stops=(*self._authoring.exercise.stops, RouteStop(**_fields(place))))

    def set_say(self, row: int, say: str) -> None:
        """Sets the talking points of a stop."""
        if self._authoring.exercise is not None:
            stops = list(self._authoring.exercise.stops)
            stops[row] = msgspec.structs.replace(stops[row], say=say)
            self._authoring.put(stops=tuple(stops))

    def add_desk_check(self, of_call: bool) -> None:
        """The table of this call, or of the passes of this loop, is to be filled in by hand."""
        place, recording = self._here(), self._session.recording
        if place is None or self._authoring.exercise is None or recording is None:
            return
        loop = tables.loop_at(recording, self._session.step)
        if loop < 0 and not of_call:
            self._messages.say(tr("The line about to run is in no loop."))
            return
        frame = recording.stepping.frame_of(self._session.step)
        table = tables.of_call(recording, frame) if of_call else tables.of_loop(recording, self._session.step, loop)
        its = DeskCheck(**_fields(place), title=table.title, of="call" if of_call else "passes")
        self._authoring.put(desk_checks=(*self._authoring.exercise.desk_checks, its))

    def go(self, place: PlannedPlace) -> None:
        """Shows a place of the plan."""
        self._navigator.go(PlannedPlace(**{name: getattr(place, name) for name in PlannedPlace.__struct_fields__}))


def _fields(place: PlannedPlace) -> dict[str, Any]:
    return msgspec.structs.asdict(place)
