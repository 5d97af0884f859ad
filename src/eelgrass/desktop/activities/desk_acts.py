"""What a person does at the simulated desk, as a part of the case."""

from __future__ import annotations

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.workspace.running.launch import Launch
from eelgrass.runs.acts import act_line, read_acts
from eelgrass.runs.order import Act

#: So much later than the last act the next one is done.
_LATER_MS = 500.0
_MOST_TOLD = 4
#: So long a button is pressed.
_PRESSED_MS = 200.0


class DeskActs(QObject):
    """`lines` are those of the case on view. Signal: `changed`."""

    changed = pyqtSignal()

    def __init__(self, session: Session, launch: Launch) -> None:
        super().__init__()
        self._session, self._launch = session, launch
        session.opened.connect(self.changed)
        launch.changed.connect(self.changed)

    @property
    def lines(self) -> tuple[str, ...]:
        """What is done in the case, a line each."""
        return self._launch.case.acts

    @property
    def can_act(self) -> bool:
        """Whether more can be done: the recording on view is of the open program."""
        recording = self._session.recording
        return recording is not None and ("desk" in recording.trace.case or bool(recording.desk.has_board))

    @property
    def words(self) -> str:
        """What is done, in a sentence."""
        lines = self.lines
        if not lines:
            return tr("Nothing is done at the desk in this case. “Click at it”, then click in the picture.")
        return ("… " if len(lines) > _MOST_TOLD else "") + "; ".join(lines[-_MOST_TOLD:])

    def do(self, what: str, on: str = "", text: str = "", at: tuple[float, float] | None = None) -> None:
        """Does something more, after all the rest; runs the program again with that."""
        acts = read_acts(self.lines)
        when = max((act.at for act in acts), default=0.0) + _LATER_MS
        x, y = at if at is not None else (None, None)
        made = [Act(when, what, on, text, x, y)]
        if what == "press":  # as a finger does
            made.append(Act(when + _PRESSED_MS, "release", on))
        self._set((*self.lines, *map(act_line, made)))

    def take_last_away(self) -> None:
        """Takes the last act away; runs the program again."""
        self._set(self.lines[:-1])

    def _set(self, lines: tuple[str, ...]) -> None:
        self._launch.choose_case(msgspec.structs.replace(self._launch.case, name=tr("at the desk"), acts=lines))
