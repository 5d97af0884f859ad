"""The run on view as a page for browsers, written on another thread."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QObject

from eelgrass.atomic_write import replace_file
from eelgrass.desktop.services.background import Lane
from eelgrass.desktop.services.messages import Messages
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.session.view_options import ViewOptions
from eelgrass.desktop.workspace.running.launch import Launch
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.errors import EelgrassError, FileError
from eelgrass.export.pages.exercise_page import planned
from eelgrass.export.pages.page import ToShow, page
from eelgrass.export.pages.runs import Chosen
from eelgrass.reading.progress import Progress


class PageWriting(QObject):
    """Writes pages: of the stretch that the tide line shows, with the plan of the open exercise."""

    def __init__(
        self, session: Session, workspace: Workspace, launch: Launch, options: ViewOptions, messages: Messages
    ) -> None:
        super().__init__()
        self._session, self._workspace, self._launch = session, workspace, launch
        self._options, self._messages = options, messages
        self.lane = Lane("page")
        self.lane.done.connect(self._say)
        self.lane.failed.connect(self._fail)

    def write(self, path: Path) -> None:
        """Writes the page of what is on view, and says so when that is done."""
        recording, exercise = self._session.recording, self._workspace.exercise
        assert recording is not None
        first, end = self._options.stretch
        case, given, title = self._launch.case.name, self._workspace.given, self._workspace.title
        self._messages.say(tr("The page is being written …"))

        def work(_progress: Progress) -> Path:
            chosen = Chosen(case) if exercise is None else planned(exercise, case, recording, given, True)
            chosen = replace(chosen, first=first, last=min(end, len(recording.trace.steps)) - 1)
            task = exercise.task if exercise is not None else ""
            html = page(exercise.title if exercise is not None else title, [ToShow(recording, chosen)], task)
            replace_file(path, html.encode("utf-8", "replace"))
            return path

        self.lane.start(work)

    def _say(self, path: Path) -> None:
        self._messages.say(tr("The page is in {0}: any browser opens it, without a network.").format(path.name))

    def _fail(self, error: Exception) -> None:
        if isinstance(error, OSError):
            error = FileError(tr("The page could not be written: {0}."), error)
        if isinstance(error, EelgrassError):
            self._messages.fail(error)
