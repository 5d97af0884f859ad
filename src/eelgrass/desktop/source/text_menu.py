"""What can be asked about a place in the text: where a name's value came from, what kept the line out."""

from __future__ import annotations

from PyQt6.QtCore import QObject, QPoint, Qt, pyqtSignal
from PyQt6.QtWidgets import QMenu, QWidget

from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.source.editor import Editor
from eelgrass.reading.hover import name_at


class TextMenu(QObject):
    """The menu of the text and of the lines' numbers. Signals: `where_from(name)`; `did(line)`, for what a line did
    last; `kept_out(line)`."""

    where_from = pyqtSignal(str)
    did = pyqtSignal(int)
    kept_out = pyqtSignal(int)

    def __init__(self, editor: Editor, numbers: QWidget) -> None:
        super().__init__(editor)
        self._editor = editor
        for widget in (editor, numbers):
            widget.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        editor.customContextMenuRequested.connect(self._over_text)
        numbers.customContextMenuRequested.connect(
            lambda position: self._show(numbers, position, self._editor.line_at(position.y()), "")
        )

    def _over_text(self, position: QPoint) -> None:
        if self._editor.is_editing:
            menu = self._editor.createStandardContextMenu()
            if menu is not None:
                menu.exec(self._editor.mapToGlobal(position))
            return
        line, column = self._editor.place_at(position)
        self._show(self._editor, position, line, name_at(self._editor.text(line - 1), column))

    def _show(self, widget: QWidget, position: QPoint, line: int, name: str) -> None:
        self.menu(widget, line, name).exec(widget.mapToGlobal(position))

    def menu(self, widget: QWidget, line: int, name: str) -> QMenu:
        """The menu for a line, and a name in it ('' for none)."""
        menu = QMenu(widget)
        if name:
            ask = menu.addAction(tr("Where from? {0}").format(name))
            assert ask is not None
            ask.triggered.connect(lambda: self.where_from.emit(name))
        did = menu.addAction(tr("Where from? what line {0} did").format(line))
        assert did is not None
        did.triggered.connect(lambda: self.did.emit(line))
        keep = menu.addAction(tr("What kept line {0} out?").format(line))
        assert keep is not None
        keep.triggered.connect(lambda: self.kept_out.emit(line))
        return menu
