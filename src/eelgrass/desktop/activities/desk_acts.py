"""What a person does at the simulated desk, as a part of the case."""

from __future__ import annotations

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.workspace.running.launch import Launch
from eelgrass.runs.order import Act, Desk

#: So much later than the last act the next one is done.
_LATER_MS = 500.0
_MOST_TOLD = 4


class DeskActs(QObject):
    """`desk` is what the case on view says. Signal: `changed`."""

    changed = pyqtSignal()

    def __init__(self, session: Session, launch: Launch) -> None:
        super().__init__()
        self._session, self._launch = session, launch
        session.opened.connect(self.changed)
        launch.changed.connect(self.changed)

    @property
    def desk(self) -> Desk:
        """What is done in the case."""
        return self._launch.case.desk

    @property
    def can_act(self) -> bool:
        """Whether more can be done: the recording on view is of the open program."""
        return self._session.recording is not None and "desk" in self._session.recording.trace.case

    @property
    def words(self) -> str:
        """What is done, in a sentence."""
        acts = self.desk.acts
        if not acts:
            return tr("Nothing is done at the desk in this case. “Click at it”, then click in the picture.")
        told = [act_words(act) for act in acts[-_MOST_TOLD:]]
        return ("… " if len(acts) > _MOST_TOLD else "") + "; ".join(told)

    def do(self, what: str, on: str = "", text: str = "", at: tuple[float, float] | None = None) -> None:
        """Does something more, after all the rest; runs the program again with that."""
        acts = self.desk.acts
        when = (acts[-1].at if acts else 0.0) + _LATER_MS
        x, y = at if at is not None else (None, None)
        self._set((*acts, Act(when, what, on, text, x, y)))

    def take_last_away(self) -> None:
        """Takes the last act away; runs the program again."""
        self._set(self.desk.acts[:-1])

    def _set(self, acts: tuple[Act, ...]) -> None:
        desk = self.desk._replace(acts=acts)
        self._launch.choose_case(msgspec.structs.replace(self._launch.case, name=tr("at the desk"), desk=desk))


def act_words(act: Act) -> str:
    """One act in words."""
    what = {
        "click": tr("click on “{0}”").format(act.on) if act.on else tr("click"),
        "type": tr("type “{0}” into “{1}”").format(act.text, act.on),
        "key": tr("key {0}").format(act.text),
    }.get(act.do, act.do)
    place = f" ({act.x:g}, {act.y:g})" if act.x is not None and act.y is not None else ""
    return tr("at {0} ms {1}").format(f"{act.at:g}", what) + place
