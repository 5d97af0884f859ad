"""What can be done with one value of Depths: other formats, and breakpoints on it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtWidgets import QMenu, QWidget

from eelgrass.desktop.services.translation import tr
from eelgrass.reading.stack.rows import Path
from eelgrass.reading.state.formats import fitting

_WATCHED = {
    "trail": "Where from? {0}",
    "what if": "What if {0} were…",
    "picture": "Picture of {0}",
    "history": "History of {0}",
    "write": "Stop where {0} is written…",
    "change": "Stop where {0} becomes another…",
    "read": "Stop where {0} is read…",
}


def value_menu(
    parent: QWidget,
    path: Path,
    plain: Any,
    set_format: Callable[[str], None],
    watch: Callable[[str, str], None],
) -> QMenu:
    """The menu of the row at `path`. `set_format` takes the name of a format, `watch` the kind of a breakpoint and how
    the value is written."""
    menu = QMenu(parent)
    for name in ("as usual", *fitting(plain)):
        action = menu.addAction(name)
        assert action is not None
        action.triggered.connect(lambda _checked, name=name: set_format(name))
    text = "".join(path[1:])
    if text:
        menu.addSeparator()
        for kind, words in _WATCHED.items():
            action = menu.addAction(tr(words).format(text))
            assert action is not None
            action.triggered.connect(lambda _checked, kind=kind: watch(kind, text))
    return menu
