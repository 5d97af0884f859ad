"""What is wrong, or looks wrong, with the text on view: said as soon as it is shown, or written."""

from __future__ import annotations

import contextlib
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer

from eelgrass.desktop.models import Models
from eelgrass.desktop.source.diagnostics_view import DiagnosticsView
from eelgrass.desktop.source.source_view import SourceView
from eelgrass.desktop.window.tab_pane import TabPane
from eelgrass.runs.order import CannotRunError
from eelgrass.runs.programs.diagnostics import diagnostics
from eelgrass.runs.pythons.choosing import known
from eelgrass.runs.texts.remarks import Diagnostic

_PAUSE_MS = 250


class Diagnosing(QObject):
    """Follows the text on view; one that is being typed is not judged before a pause."""

    def __init__(self, models: Models, source: SourceView, tabs: TabPane) -> None:
        super().__init__(tabs)
        self._models = models
        self._source = source
        self._tabs = tabs
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(_PAUSE_MS)
        self._pause.timeout.connect(self.diagnose)
        tabs.view(DiagnosticsView).chosen.connect(source.editor.put_caret)
        models.parts.texts.changed.connect(self._pause.start)
        for changed in (source.shown, models.workspace.changed, models.run.changed):
            changed.connect(self.diagnose)

    def diagnose(self) -> None:
        """Says what there is to say about the text on view."""
        workspace, view = self._models.workspace, self._tabs.view(DiagnosticsView)
        file = self._source.file or workspace.text_file
        is_own = workspace.program is not None and not self._models.parts.texts.shows_lent
        found = self._found(Path(file).parent) if is_own and workspace.may_edit(file) else []
        view.show_diagnostics(found)
        self._source.show_diagnostics(found)
        self._tabs.offer()
        if any(its.is_error for its in found):
            self._tabs.show_view(DiagnosticsView)

    def _found(self, folder: Path) -> list[Diagnostic]:
        chosen = None
        with contextlib.suppress(CannotRunError):  # which a run will say
            chosen = known(folder)
        return diagnostics(self._source.editor.text(), folder, chosen.interpreter.path if chosen is not None else ())
