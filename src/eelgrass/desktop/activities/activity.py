"""What a student's and an instructor's work on an exercise have in common."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.activities.navigator import Navigator
from eelgrass.desktop.services.background import Lane
from eelgrass.desktop.services.disk_writer import DiskWriter
from eelgrass.desktop.services.messages import Messages
from eelgrass.desktop.session.session_parts import SessionParts
from eelgrass.desktop.workspace.running.launch import Launch
from eelgrass.desktop.workspace.workspace import Workspace


class Activity(QObject):
    """Work on the open exercise, whose cases run in a lane of their own. Signal: `changed` when anything of it has."""

    changed = pyqtSignal()

    def __init__(
        self,
        lane: str,
        parts: SessionParts,
        workspace: Workspace,
        launch: Launch,
        navigator: Navigator,
        writer: DiskWriter,
        messages: Messages,
    ) -> None:
        super().__init__()
        self._session = parts.session
        self._texts = parts.texts
        self._workspace = workspace
        self._launch = launch
        self._navigator = navigator
        self._writer = writer
        self.messages = messages
        self.lane = Lane(lane)
