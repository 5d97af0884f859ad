"""Keys in a field are the field's: no letter, and no arrow, moves the program meanwhile."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QAbstractSpinBox, QApplication, QComboBox, QLineEdit, QWidget

from eelgrass.desktop.commands.shortcuts import Shortcuts
from eelgrass.desktop.source.source_view import SourceView

_KEYS = (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown)
_FIELDS = (QLineEdit, QAbstractSpinBox, QComboBox)


class FieldKeys(QObject):
    """Watches the field that has the keys: of the keys that a field of one line leaves to the window's shortcuts, it
    keeps those that look like the field's own. While the text is written, keys are letters in the text alone."""

    def __init__(self, parent: QObject, source: SourceView, shortcuts: Shortcuts) -> None:
        super().__init__(parent)
        self._source = source
        self._shortcuts = shortcuts
        application = QApplication.instance()
        assert isinstance(application, QApplication)
        application.focusChanged.connect(self._watch)

    def _watch(self, _before: QWidget | None, now: QWidget | None) -> None:
        if isinstance(now, _FIELDS):
            now.installEventFilter(self)
        if now is not None:
            self._shortcuts.write(self._source.is_editing and now is self._source.editor)

    def eventFilter(self, _watched: QObject | None, event: QEvent | None) -> bool:
        """Keeps a key from being a shortcut."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            is_its_own = event.key() in _KEYS and event.modifiers() == Qt.KeyboardModifier.NoModifier
            event.setAccepted(event.isAccepted() or is_its_own)
            return is_its_own
        return False
