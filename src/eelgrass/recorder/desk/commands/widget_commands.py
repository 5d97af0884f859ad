"""The commands of widgets: what every widget is asked, and what those of a kind are."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from eelgrass.recorder.desk.commands import notebooks
from eelgrass.recorder.desk.commands.tree_commands import TreeCommands
from eelgrass.recorder.desk.events import reactions
from eelgrass.recorder.desk.events.bindings import bound
from eelgrass.recorder.desk.language.text_places import offset, place_at
from eelgrass.recorder.desk.language.words import TclError, as_text, number, options, split, whole

if TYPE_CHECKING:
    from eelgrass.recorder.desk.application import Application
    from eelgrass.recorder.desk.widgets.canvas import Item
    from eelgrass.recorder.desk.widgets.widget import Widget

#: What has nothing to show here.
_SILENT = frozenset(
    (
        *("see", "scan", "flash", "activate", "selection", "select", "mark", "edit", "tag", "window", "image", "peer"),
        *("nearest", "sashpos", "sash", "state", "instate", "start", "stop", "identify", "fraction", "delta", "post"),
        *("unpost", "postcascade", "xposition", "yposition", "validate", "dlineinfo", "debug", "proxy", "tab", "add"),
    )
)


class WidgetCommands:
    """Runs commands of widgets for one application."""

    def __init__(self, app: Application) -> None:
        self.app = app
        self._trees = TreeCommands(app)

    def run(self, its: Widget, command: str, words: tuple[Any, ...]) -> Any:
        """One command of a widget. Raises TclError."""
        if command == "cget":
            return self._cget(its, its.name(as_text(words[0])))
        if command in ("configure", "config"):
            return self._configure(its, words)
        canvas = self.app.canvases.get(its.path)
        if canvas is not None and command not in ("xview", "yview"):
            return self._of_canvas(its, command, words)
        if its.class_ == "Treeview" and command not in ("xview", "yview"):
            return self._trees.run(its, command, words)
        kind = its.class_.lower().removeprefix("t") if its.kind.startswith("ttk") else its.class_.lower()
        kind = {"spinbox": "entry", "combobox": "entry", "radiobutton": "button", "checkbutton": "button"}.get(
            kind, kind
        )
        own = getattr(self, f"_{kind}_{command}", None) or getattr(self, f"_{command}", None)
        if own is not None:
            return own(its, *words)
        if command in _SILENT:
            return ""
        raise TclError(f'bad option "{command}"')

    def _cget(self, its: Widget, name: str) -> Any:
        if name == "text" and its.text_of("textvariable"):
            return self.app.words_of(its)
        return split(its.get(name)) if name in ("values", "columns") and its.get(name) else its.get(name)

    def _configure(self, its: Widget, words: tuple[Any, ...]) -> Any:
        if not words:
            return tuple(its.configuration(name) for name in its.option_names)
        if len(words) == 1:
            return its.configuration(as_text(words[0]))
        its.configure(words)
        self.app.telling.changed(its.path)
        return ""

    def _of_canvas(self, its: Widget, command: str, words: tuple[Any, ...]) -> Any:
        canvas = self.app.canvases[its.path]
        if command == "bind":
            return bound(canvas.bindings.setdefault(as_text(words[0]), {}), words[1:])
        result = canvas.call(command, words)
        for item in canvas.changed_windows():
            self._put_into(its, item)
        return result

    def _put_into(self, canvas: Widget, item: Item) -> None:
        """A widget is shown as an item of a canvas."""
        its, origin = self.app.widgets.get(as_text(item.options["window"])), self.app.canvases[canvas.path].origin
        if its is not None:
            x, y = (coord - start for coord, start in zip(item.coords, origin, strict=True))
            sizes = {name: item.options[name] for name in ("width", "height") if item.options.get(name)}
            its.place = {"in": canvas.path, "x": x, "y": y, "anchor": item.options["anchor"], **sizes}
            its.manager = "canvas" if item.number in self.app.canvases[canvas.path].items else ""
            its.order = its.order or self.app.next_order()
            self.app.telling.changed(its.path)

    # Views that scroll

    def _xview(self, its: Widget, *words: Any) -> Any:
        return self._view(its, 0, words)

    def _yview(self, its: Widget, *words: Any) -> Any:
        return self._view(its, 1, words)

    def _view(self, its: Widget, axis: int, words: tuple[Any, ...]) -> Any:
        canvas, region = self.app.canvases.get(its.path), [number(part) for part in split(its.get("scrollregion"))]
        if canvas is None or len(region) != 4:
            return (0.0, 1.0) if not words else ""
        low, length = region[axis], (region[axis + 2] - region[axis]) or 1.0
        if not words:
            share = (canvas.origin[axis] - low) / length
            return share, share + its.rect[2 + axis] / length
        if as_text(words[0]) == "moveto":
            canvas.origin[axis] = round(low + number(words[1]) * length)
        elif as_text(words[0]) == "scroll":
            step = its.rect[2 + axis] * (0.9 if as_text(words[2]).startswith("p") else 0.1)
            canvas.origin[axis] += number(words[1]) * step
        for item in canvas.windows():
            self._put_into(its, item)
        self.app.telling.changed(its.path)
        return ""

    # Buttons, scales

    def _button_invoke(self, its: Widget) -> Any:
        return reactions.invoke(self.app, its)

    def _button_select(self, its: Widget) -> str:
        name = "value" if its.class_.endswith("Radiobutton") else "onvalue"
        self.app.setvar(its.text_of("variable"), its.get(name))
        return ""

    def _button_deselect(self, its: Widget) -> str:
        self.app.setvar(its.text_of("variable"), "" if its.class_.endswith("Radiobutton") else its.get("offvalue"))
        return ""

    def _button_toggle(self, its: Widget) -> str:
        is_on = as_text(self.app.variables.get(its.text_of("variable"), "")) == its.text_of("onvalue")
        return self._button_deselect(its) if is_on else self._button_select(its)

    def _scale_get(self, its: Widget, *_at: Any) -> Any:
        variable = its.text_of("variable")
        low = its.get("from")
        value = (
            self.app.variables.get(variable, its.options.get("value", low))
            if variable
            else its.options.get("value", low)
        )
        step = float(its.get("resolution") or 0)
        return int(float(value)) if its.class_ == "Scale" and step == int(step or 1) else float(value)

    def _scale_set(self, its: Widget, value: Any) -> str:
        command = its.options.pop("command", None)
        reactions.set_scale(self.app, its, value)
        if command is not None:
            its.options["command"] = command
        return ""

    def _scrollbar_set(self, its: Widget, *words: Any) -> str:
        its.rows[("view", 0)] = {"at": words}
        return ""

    def _scrollbar_get(self, its: Widget) -> Any:
        return its.rows.get(("view", 0), {}).get("at", (0.0, 1.0))

    def _progressbar_step(self, its: Widget, amount: Any = 1) -> str:
        its.options["value"] = float(its.get("value") or 0) + number(amount)
        self.app.telling.changed(its.path)
        return ""

    # Pages

    def _panedwindow_add(self, its: Widget, path: Any, *_words: Any) -> str:
        pane = self.app.widget(path)
        side = "left" if its.text_of("orient") == "horizontal" else "top"
        pane.manager, pane.place = "pack", {"fill": "both", "expand": 1, "in": its.path, "side": side}
        pane.order = self.app.next_order()
        self.app.telling.changed(pane.path)
        return ""

    def _notebook_add(self, its: Widget, path: Any, *words: Any) -> str:
        return notebooks.add(self.app, its, len(its.entries), as_text(path), options(words))

    def _notebook_insert(self, its: Widget, index: Any, path: Any, *words: Any) -> str:
        place = len(its.entries) if as_text(index) == "end" else notebooks.place_of(its, index)
        return notebooks.add(self.app, its, place, as_text(path), options(words))

    def _notebook_forget(self, its: Widget, tab: Any) -> str:
        return notebooks.forget(self.app, its, notebooks.place_of(its, tab))

    def _notebook_select(self, its: Widget, *tab: Any) -> str:
        if not tab:
            return notebooks.shown(its)
        return notebooks.show(self.app, its, notebooks.place_of(its, tab[0]))

    def _notebook_index(self, its: Widget, tab: Any) -> int:
        return len(its.entries) if as_text(tab) == "end" else notebooks.place_of(its, tab)

    def _notebook_tabs(self, its: Widget) -> tuple[str, ...]:
        return tuple(as_text(page["path"]) for page in its.entries)

    def _notebook_tab(self, its: Widget, tab: Any, *words: Any) -> Any:
        page = its.entries[notebooks.place_of(its, tab)]
        if len(words) == 1:
            return page.get(as_text(words[0]).lstrip("-"), "")
        page.update(options(words))
        self.app.telling.changed(its.path)
        return ""

    # Entries

    def _place_in(self, its: Widget, index: Any) -> int:
        text = as_text(index)
        if text in ("end", "insert", "anchor"):
            return len(its.text) if text == "end" else its.cursor
        return min(max(whole(index), 0), len(its.text))

    def _entry_get(self, its: Widget) -> str:
        variable = its.text_of("textvariable")
        return as_text(self.app.variables.get(variable, "")) if variable else its.text

    def _entry_insert(self, its: Widget, index: Any, text: Any) -> str:
        at, new = self._place_in(its, index), as_text(text)
        its.text = self._entry_get(its)
        whole_ = its.text[:at] + new + its.text[at:]
        if its.text_of("state") in ("disabled", "readonly") or not reactions.is_valid(self.app, its, whole_, new, at):
            return ""
        its.cursor = at + len(new)
        self.app.set_text(its, whole_)
        its.cursor = at + len(new)
        return ""

    def _entry_delete(self, its: Widget, first: Any, last: Any = None) -> str:
        its.text = self._entry_get(its)
        start = self._place_in(its, first)
        end = start + 1 if last is None else self._place_in(its, last)
        left = its.text[:start] + its.text[max(end, start) :]
        if its.text_of("state") in ("disabled", "readonly"):
            return ""
        if reactions.is_valid(self.app, its, left, its.text[start : max(end, start)], start):
            its.cursor = start
            self.app.set_text(its, left)
        return ""

    def _entry_index(self, its: Widget, index: Any) -> int:
        return self._place_in(its, index)

    def _entry_icursor(self, its: Widget, index: Any) -> str:
        its.cursor = self._place_in(its, index)
        return ""

    def _entry_set(self, its: Widget, value: Any) -> str:
        self.app.set_text(its, as_text(value))
        return ""

    def _entry_current(self, its: Widget, *place: Any) -> Any:
        values = [as_text(one) for one in split(its.get("values"))]
        if place:
            self.app.set_text(its, values[whole(place[0])])
            return ""
        return values.index(its.text) if its.text in values else -1

    # Texts

    def _offset(self, its: Widget, index: Any) -> int:
        return offset(its.text, index, its.cursor, {})

    def _text_get(self, its: Widget, first: Any, last: Any = None) -> str:
        start = self._offset(its, first)
        end = start + 1 if last is None else self._offset(its, last)
        return (its.text + "\n")[start:end]

    def _text_insert(self, its: Widget, index: Any, *words: Any) -> str:
        at, new = min(self._offset(its, index), len(its.text)), "".join(as_text(word) for word in words[::2])
        if its.text_of("state") == "disabled":
            return ""
        before = its.cursor
        self.app.set_text(its, its.text[:at] + new + its.text[at:])
        its.cursor = before + len(new) if at <= before else before
        return ""

    def _text_delete(self, its: Widget, first: Any, last: Any = None) -> str:
        start = self._offset(its, first)
        end = max(start + 1 if last is None else self._offset(its, last), start)
        if its.text_of("state") == "disabled" or end == start:
            return ""
        if len(its.text) < end and its.text[start - 1 : start] == "\n":
            start, end = start - 1, len(its.text)  # the last line's end stays: the one before it goes
        before = its.cursor
        self.app.set_text(its, its.text[:start] + its.text[end:])
        its.cursor = before - (min(before, end) - start) if before > start else before
        return ""

    def _text_index(self, its: Widget, index: Any) -> str:
        return place_at(its.text, self._offset(its, index))

    def _text_compare(self, its: Widget, first: Any, how: Any, last: Any) -> bool:
        one, other = self._offset(its, first), self._offset(its, last)
        ways = {"<": one < other, "<=": one <= other, "==": one == other, ">=": one >= other, ">": one > other}
        if as_text(how) not in (*ways, "!="):
            raise TclError(f'bad comparison operator "{as_text(how)}": must be <, <=, ==, >=, >, or !=')
        return ways.get(as_text(how), one != other)

    def _text_search(self, its: Widget, *words: Any) -> str:
        options_ = [as_text(word) for word in words[:-2] if as_text(word).startswith("-")]
        rest = [word for word in words if not as_text(word).startswith("-")]
        pattern, start = as_text(rest[0]), self._offset(its, rest[1])
        whole_ = its.text.lower() if "-nocase" in options_ else its.text
        pattern = pattern.lower() if "-nocase" in options_ else pattern
        if "-backwards" in options_:
            at = whole_.rfind(pattern, 0, start)
        else:
            end = self._offset(its, rest[2]) if len(rest) > 2 else len(whole_)
            at = whole_.find(pattern, start, end)
            at = whole_.find(pattern) if at < 0 and len(rest) < 3 else at
        return "" if at < 0 else place_at(its.text, at)

    # Lists and menus

    def _row(self, its: Widget, index: Any, count: int) -> int:
        text = as_text(index)
        return (
            count if text == "end" else min(its.selected, default=0) if text in ("active", "anchor") else whole(index)
        )

    def _listbox_insert(self, its: Widget, index: Any, *words: Any) -> str:
        if its.text_of("state") == "disabled":
            return ""
        at = self._row(its, index, len(its.lines))
        its.lines[at:at] = words
        its.selected = {one + len(words) * (one >= at) for one in its.selected}
        self.app.telling.changed(its.path)
        return ""

    def _listbox_delete(self, its: Widget, first: Any, last: Any = None) -> str:
        if its.text_of("state") == "disabled":
            return ""
        start = self._row(its, first, len(its.lines) - 1)
        end = start if last is None else self._row(its, last, len(its.lines) - 1)
        del its.lines[start : end + 1]
        gone = range(start, end + 1)
        its.selected = {one - len(gone) * (one > end) for one in its.selected if one not in gone}
        self.app.telling.changed(its.path)
        return ""

    def _listbox_get(self, its: Widget, first: Any, last: Any = None) -> Any:
        start = self._row(its, first, len(its.lines) - 1)
        if last is not None:
            return tuple(its.lines[start : self._row(its, last, len(its.lines) - 1) + 1])
        return its.lines[start] if 0 <= start < len(its.lines) else ""

    def _listbox_size(self, its: Widget) -> int:
        return len(its.lines)

    def _listbox_curselection(self, its: Widget) -> tuple[int, ...]:
        return tuple(sorted(its.selected))

    def _listbox_selection(self, its: Widget, action: Any, first: Any, last: Any = None) -> Any:
        if its.text_of("state") == "disabled" and as_text(action) != "includes":
            return ""
        start = self._row(its, first, len(its.lines) - 1)
        end = start if last is None else self._row(its, last, len(its.lines) - 1)
        chosen = {row for row in range(start, end + 1) if 0 <= row < len(its.lines)}
        if as_text(action) == "includes":
            return start in its.selected
        its.selected = its.selected | chosen if as_text(action) == "set" else its.selected - chosen
        self.app.telling.changed(its.path)
        return ""

    def _menu_add(self, its: Widget, kind: Any, *words: Any) -> str:
        its.entries.append({"type": as_text(kind), **options(words)})
        return ""

    def _menu_delete(self, its: Widget, first: Any, last: Any = None) -> str:
        end = len(its.entries) - 1
        start = self._row(its, first, end)
        del its.entries[start : (start if last is None else self._row(its, last, end)) + 1]
        return ""

    def _menu_entryconfigure(self, its: Widget, index: Any, *words: Any) -> str:
        place = next((n for n, one in enumerate(its.entries) if one.get("label") == index), -1)
        its.entries[whole(index) if place < 0 else place].update(options(words))
        return ""

    def _menu_index(self, its: Widget, index: Any) -> Any:
        return len(its.entries) - 1 if as_text(index) in ("end", "last") else whole(index)

    def _menu_invoke(self, its: Widget, index: Any) -> Any:
        return reactions.invoke_entry(self.app, its.entries[self._menu_index(its, index)])
