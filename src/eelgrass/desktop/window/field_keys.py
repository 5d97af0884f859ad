"""Where keys go: to the field that is written in, to the view that is walked with them, or to the moves."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QAbstractSpinBox,
    QApplication,
    QComboBox,
    QLineEdit,
    QListView,
    QWidget,
)

from eelgrass.desktop.commands.shortcuts import Shortcuts
from eelgrass.desktop.look.widgets import KEEPS_KEYS, WALKS, take_keys_home
from eelgrass.desktop.source.source_view import SourceView

_UP_AND_DOWN = frozenset((Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown))
_IN_LISTS = _UP_AND_DOWN | {Qt.Key.Key_Home, Qt.Key.Key_End, Qt.Key.Key_Return, Qt.Key.Key_Enter}
_WALKING = _IN_LISTS | {Qt.Key.Key_Left, Qt.Key.Key_Right}
_FIELDS = (QLineEdit, QAbstractSpinBox, QComboBox)


def kept_keys(widget: QObject | None) -> frozenset[Qt.Key]:
    """The keys that are a widget's own while it has the focus, though actions of the window have them, too."""
    if isinstance(widget, _FIELDS):
        return _UP_AND_DOWN
    if isinstance(widget, QListView):
        return _IN_LISTS
    if isinstance(widget, QAbstractItemView) or (widget is not None and widget.property(WALKS)):
        return _WALKING
    return frozenset()


class FieldKeys(QObject):
    """Watches the widget that has the keys: it keeps those that are its own. After a click on a row, the keys are
    the moves' again; only who comes to a list by keys walks it by keys. While the text is written, keys are letters in
    the text alone."""

    def __init__(self, parent: QObject, source: SourceView, shortcuts: Shortcuts) -> None:
        super().__init__(parent)
        self._source = source
        self._shortcuts = shortcuts
        application = QApplication.instance()
        assert isinstance(application, QApplication)
        application.focusChanged.connect(self._watch)

    def _watch(self, _before: QWidget | None, now: QWidget | None) -> None:
        if kept_keys(now):
            assert now is not None
            now.installEventFilter(self)
        if isinstance(now, QAbstractItemView) and not now.property(KEEPS_KEYS):
            viewport = now.viewport()
            assert viewport is not None
            viewport.installEventFilter(self)
        if now is not None:
            self._shortcuts.write(self._source.is_editing and now is self._source.editor)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Keeps a key from being a shortcut, and takes the keys home after a click."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            is_its_own = event.key() in kept_keys(watched) and event.modifiers() == Qt.KeyboardModifier.NoModifier
            event.setAccepted(event.isAccepted() or is_its_own)
            return is_its_own
        if event is not None and event.type() == QEvent.Type.MouseButtonRelease and isinstance(watched, QWidget):
            take_keys_home(watched)
        return False
