"""How things are shown: what is unfolded, formats, chosen pictures and tables, the stretch of the tide line."""

from __future__ import annotations

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.reading.stack.rows import Path


class TableLayout(msgspec.Struct):
    """How trace tables are laid out: expressions that were added; by family of tables the ids of its columns in their
    order; widths in pixels and whether they are hidden by the id of a column."""

    expressions: list[str] = []
    columns: dict[str, list[str]] = {}
    widths: dict[str, int] = {}
    hidden: set[str] = set()


class ViewOptions(QObject):
    """`unfolded` are the paths of containers that are open in Depths; `formats`, by name, how a value is shown;
    `focused`, whether only the names of the line count; `pictures`, of which paths pictures are drawn; `table`, how
    trace tables are laid out, and `table_scope`, of what one is shown; `stretch`, the steps that the tide line shows:
    the first, and the one after the last.

    Signals: `changed` when something of Depths is to be shown in another way, `pictures_changed`, `stretched`.
    """

    changed = pyqtSignal()
    pictures_changed = pyqtSignal()
    stretched = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.unfolded: set[Path] = set()
        self.formats: dict[str, str] = {}
        self.focused = False
        self.pictures: list[str] = []
        self.table = TableLayout()
        self.table_scope = 0
        self.stretch = (0, 1)

    def forget(self) -> None:
        """Another program is being opened: what belonged to the one before goes."""
        self.unfolded.clear()
        self.set_pictures([])
        self.table = TableLayout()

    def toggle(self, path: Path) -> None:
        """Opens or closes a container or object."""
        self.unfolded ^= {path}
        self.changed.emit()

    def set_format(self, name: str, how: str) -> None:
        """Shows the values of a name in a format; '' as usual."""
        self.formats.pop(name, None)
        if how:
            self.formats[name] = how
        self.changed.emit()

    def set_focus(self, on: bool) -> None:
        """Shows only the names that the line about to run uses, or all."""
        self.focused = on
        self.changed.emit()

    def set_pictures(self, paths: list[str]) -> None:
        """Sets anew what pictures are drawn of."""
        self.pictures = paths
        self.pictures_changed.emit()

    def keep_picture(self, path: str) -> None:
        """Draws a picture of what a path leads to, before the others."""
        path = path.strip()
        if path:
            self.set_pictures([path, *(other for other in self.pictures if other != path)])

    def set_stretch(self, first: int, end: int) -> None:
        """The tide line shows other steps."""
        if (first, end) != self.stretch:
            self.stretch = (first, end)
            self.stretched.emit()
