"""Trails that are kept for later, with a note, or sent with an answer."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.activities.solving import Solving
from eelgrass.desktop.session.questions.trails import Trails
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.lessons.answering.answer import Evidence


class KeptTrails(QObject):
    """`kept` are those of the open program, the first one first: each with the moments that were walked to, by line and
    visit, so that they are found again in another run. Signal: `changed` when that has."""

    changed = pyqtSignal()

    def __init__(self, trails: Trails, solving: Solving, session: Session, workspace: Workspace) -> None:
        super().__init__()
        self._trails = trails
        self._solving = solving
        self._session = session
        self._workspace = workspace
        self.kept: tuple[Evidence, ...] = ()
        workspace.store.trails = lambda: self.kept
        workspace.exercise_opened.connect(self._begin)
        solving.changed.connect(self.changed)

    def _begin(self) -> None:
        self.kept = self._workspace.store.saved.trails
        self.changed.emit()

    @property
    def may_attach(self) -> bool:
        """Whether there is an answer of one's own that a trail can be sent with."""
        return self._solving.exercise is not None and not self._workspace.makes and self._solving.opened is None

    def keep(self, note: str) -> None:
        """Keeps the trail on view with a note."""
        its = self._as_evidence(note)
        if its is not None:
            self._put((*self.kept, its))

    def attach(self, note: str) -> None:
        """Puts the trail on view into the answer."""
        its = self._as_evidence(note)
        if its is not None and self.may_attach:
            self._solving.attach_evidence(its)

    def forget(self, its: Evidence) -> None:
        """Keeps a trail no longer."""
        self._put(tuple(one for one in self.kept if one is not its))

    def go(self, moment: Evidence) -> None:
        """Shows a moment of a kept trail, in the run of its case."""
        self._solving.go(moment)

    def _put(self, kept: tuple[Evidence, ...]) -> None:
        self.kept = kept
        self._workspace.store.keep()
        self.changed.emit()

    def _as_evidence(self, note: str) -> Evidence | None:
        recording, trails = self._session.recording, self._trails
        if recording is None or not trails.walked:
            return None
        asked = self._solving.evidence_at(recording, trails.asked_at, trails.title)
        moments = tuple(self._solving.evidence_at(recording, its.step, its.text) for its in trails.walked)
        return Evidence(asked.case, asked.line, asked.visit, asked.told, asked.file, moments, note.strip())
