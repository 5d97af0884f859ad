"""The commands of a widget of rows and columns."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from eelgrass.recorder.desk.events import reactions
from eelgrass.recorder.desk.language.words import TclError, as_text, options
from eelgrass.recorder.desk.widgets.tree import COLUMN, Row, Tree, listed

if TYPE_CHECKING:
    from eelgrass.recorder.desk.application import Application
    from eelgrass.recorder.desk.widgets.widget import Widget

#: What is known of a column, and of its title, as long as nothing is said.
_COLUMN = {"width": COLUMN, "minwidth": 20, "stretch": 1, "anchor": "w"}
#: Commands that change nothing.
_ONLY_ASKED = frozenset(("exists", "index", "parent", "next", "prev", "bbox"))
_HEADING = {"text": "", "image": "", "anchor": "center", "command": "", "state": ""}


class TreeCommands:
    """Runs them for one application."""

    def __init__(self, app: Application) -> None:
        self.app = app

    def run(self, its: Widget, command: str, words: tuple[Any, ...]) -> Any:
        """One command. Raises TclError."""
        own = getattr(self, f"_{command}", None)
        if own is None:
            return ""
        result = own(its, its.tree, *words)
        if command not in _ONLY_ASKED:
            self.app.telling.changed(its.path)
        return result

    def _insert(self, its: Widget, tree: Tree, above: Any, index: Any, *words: Any) -> str:
        given = options(words)
        row = Row(as_text(above))
        _configure(row, given)
        return tree.insert(as_text(above), index, as_text(given["id"]) if "id" in given else None, row)

    def _item(self, its: Widget, tree: Tree, name: Any, *words: Any) -> Any:
        row = tree.row(name)
        told = {"text": row.text, "image": row.image, "values": row.values or "", "open": int(row.is_open)}
        told["tags"] = row.tags or ""
        if len(words) == 1:
            return told.get(as_text(words[0]).lstrip("-"), "")
        if not words:
            return tuple(part for key, value in told.items() for part in (f"-{key}", value))
        _configure(row, options(words))
        return ""

    def _delete(self, its: Widget, tree: Tree, names: Any) -> str:
        _refuse_root(tree, names, "delete")
        for name in listed(names):
            if name in tree.rows:
                tree.delete(name)
        reactions.choose_rows(self.app, its, [name for name in tree.selected if name in tree.rows])
        return ""

    def _detach(self, its: Widget, tree: Tree, names: Any) -> str:
        _refuse_root(tree, names, "detach")
        for name in listed(names):
            tree.take_out(name)
        return ""

    def _move(self, its: Widget, tree: Tree, name: Any, above: Any, index: Any) -> str:
        tree.row(name)
        around, outer = tree.row(above), as_text(above)
        while True:  # what it would lie within
            if outer == as_text(name):
                raise TclError(f"Cannot insert {as_text(name)} as descendant of {as_text(above)}")
            if not outer:
                break
            outer = tree.rows[outer].above or ""
        row = tree.take_out(as_text(name))
        around.within.insert(tree.place(index, len(around.within)), as_text(name))
        row.above = as_text(above)
        return ""

    def _children(self, its: Widget, tree: Tree, name: Any, *names: Any) -> Any:
        row = tree.row(name)
        if not names:
            return tuple(row.within)
        for one in list(row.within):
            tree.take_out(one)
        for one in listed(names[0]):
            self._move(its, tree, one, name, "end")
        return ""

    def _exists(self, its: Widget, tree: Tree, name: Any) -> bool:
        return as_text(name) in tree.rows

    def _index(self, its: Widget, tree: Tree, name: Any) -> int:
        above = tree.row(name).above
        return 0 if above is None else tree.rows[above].within.index(as_text(name))

    def _parent(self, its: Widget, tree: Tree, name: Any) -> str:
        return tree.row(name).above or ""

    def _next(self, its: Widget, tree: Tree, name: Any) -> str:
        return self._beside(tree, as_text(name), 1)

    def _prev(self, its: Widget, tree: Tree, name: Any) -> str:
        return self._beside(tree, as_text(name), -1)

    def _beside(self, tree: Tree, name: str, step: int) -> str:
        above = tree.row(name).above
        within = tree.rows[above].within if above is not None else []
        place = within.index(name) + step if name in within else -1
        return within[place] if 0 <= place < len(within) else ""

    def _focus(self, its: Widget, tree: Tree, *name: Any) -> str:
        if not name:
            return tree.focus
        tree.row(name[0])
        tree.focus = as_text(name[0])
        return ""

    def _selection(self, its: Widget, tree: Tree, how: Any = None, names: Any = ()) -> Any:
        if how is None:
            return tuple(name for _, name in tree.in_order() if name in tree.selected)
        chosen, before = listed(names), list(tree.selected)
        for name in chosen:
            tree.row(name)
        changed = {
            "set": list(chosen),
            "add": [*before, *(name for name in chosen if name not in before)],
            "remove": [name for name in before if name not in chosen],
            "toggle": [*(n for n in before if n not in chosen), *(n for n in chosen if n not in before)],
        }
        if as_text(how) not in changed:
            raise TclError(f'bad selection operation "{as_text(how)}": must be set, add, remove, or toggle')
        reactions.choose_rows(self.app, its, changed[as_text(how)])
        return ""

    def _set(self, its: Widget, tree: Tree, name: Any, *words: Any) -> Any:
        row, names = tree.row(name), listed(its.get("columns"))
        if not words:
            pairs = zip(names, row.values, strict=False)
            return tuple(part for pair in pairs for part in pair)
        place = _column_place(names, as_text(words[0]))
        if place < 0:
            raise TclError("Display column #0 cannot be set")
        if len(words) == 1:
            return row.values[place] if place < len(row.values) else ""
        values = [*row.values, *[""] * (place + 1 - len(row.values))]
        values[place] = as_text(words[1])
        row.values = tuple(values)
        return ""

    def _column(self, its: Widget, tree: Tree, column: Any, *words: Any) -> Any:
        names = listed(its.get("columns"))
        place = _column_place(names, as_text(column))
        key = names[place] if place >= 0 else "#0"
        return _told_or_set(tree.columns.setdefault(key, {**_COLUMN, "id": key if place >= 0 else ""}), words)

    def _heading(self, its: Widget, tree: Tree, column: Any, *words: Any) -> Any:
        names = listed(its.get("columns"))
        place = _column_place(names, as_text(column))
        return _told_or_set(tree.headings.setdefault(names[place] if place >= 0 else "#0", dict(_HEADING)), words)

    def _tag(self, its: Widget, tree: Tree, what: Any, tag: Any = "", *words: Any) -> Any:
        if as_text(what) != "has":
            return ""
        if words:
            tree.row(words[0])
        having = tuple(name for _, name in tree.in_order() if as_text(tag) in tree.rows[name].tags)
        return as_text(words[0]) in having if words else having

    def _bbox(self, its: Widget, tree: Tree, name: Any, *_column: Any) -> str:
        tree.row(name)
        return ""

    def _see(self, its: Widget, tree: Tree, name: Any) -> str:
        row = tree.row(name)
        while row.above:
            row = tree.rows[row.above]
            row.is_open = True
        return ""


def _refuse_root(tree: Tree, names: Any, what: str) -> None:
    """Raises TclError for rows that are none, and for what is around all of them."""
    for name in listed(names):
        tree.row(name)
        if not name:
            raise TclError(f"Cannot {what} root item")


def _configure(row: Row, given: dict[str, Any]) -> None:
    row.text = as_text(given.get("text", row.text))
    row.image = as_text(given.get("image", row.image))
    row.values = listed(given["values"]) if "values" in given else row.values
    row.tags = listed(given["tags"]) if "tags" in given else row.tags
    if "open" in given:
        row.is_open = as_text(given["open"]).lower() in ("1", "true", "yes", "on")


def _column_place(names: tuple[str, ...], column: str) -> int:
    """Which of the columns is meant; -1 for the texts of rows. Raises TclError."""
    if column in names:
        return names.index(column)
    number = column.removeprefix("#")
    if not number.isdecimal():
        raise TclError(f"Invalid column index {column}")
    place = int(number) - column.startswith("#")
    if not -1 <= place < len(names):
        raise TclError(f"Invalid column index {column}")
    return place


def _told_or_set(known: dict[str, Any], words: tuple[Any, ...]) -> Any:
    """What `column` and `heading` do with what they know."""
    if len(words) == 1:
        return known.get(as_text(words[0]).lstrip("-"), "")
    if not words:
        return tuple(part for key, value in known.items() for part in (f"-{key}", value))
    known.update(options(words))
    return ""
