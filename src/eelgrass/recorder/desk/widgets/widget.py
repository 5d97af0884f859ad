"""A widget: its options, what is in it, what is bound to it."""

from __future__ import annotations

from typing import Any

from eelgrass.recorder.desk.language.colours import rgb
from eelgrass.recorder.desk.language.words import TclError, as_text, number, options
from eelgrass.recorder.desk.widgets.kinds import KINDS, SYNONYMS, THEMED, default
from eelgrass.recorder.desk.widgets.tree import Tree

#: Options that hold colours, and numbers with a point.
_COLOURS = ("ground", "color")
_NUMBERS = ("from", "to", "resolution", "increment", "tickinterval", "bigincrement")


_STATES = {
    **dict.fromkeys(("Text", "Listbox", "Canvas"), ("disabled", "normal")),
    **dict.fromkeys(("Entry", "Spinbox"), ("disabled", "normal", "readonly")),
}
_RELIEFS = ("flat", "groove", "raised", "ridge", "solid", "sunken")


def _check_word(class_: str, name: str, word: str) -> None:
    """Refuses what is none of the words that an option may be. Raises TclError."""
    known = _STATES.get(class_, ("active", "disabled", "normal")) if name == "state" else _RELIEFS
    if name not in ("state", "relief") or any(its.startswith(word) for its in known if word):
        return
    told = f"{', '.join(known[:-1])}, or {known[-1]}" if len(known) > 2 else " or ".join(known)
    if class_ == "Canvas" and name == "state":
        raise TclError(f'bad state value "{word}": must be normal or disabled')
    raise TclError(f'bad {name} "{word}": must be {told}')


class Widget:
    """`place` is how its parent's space is shared out: "pack", "grid" or "place", with options; `rect` where it then
    lies in its parent; a window in a canvas is managed by "canvas"."""

    def __init__(self, path: str, kind: str) -> None:
        self.path = path
        self.kind = kind
        self.class_ = THEMED.get(kind) or KINDS[kind][0]
        self._known = None if kind in THEMED else KINDS[kind][1]
        self.options: dict[str, Any] = {}
        self.bindings: dict[str, str] = {}
        self.tags: tuple[str, ...] | None = None
        self.manager = ""
        self.place: dict[str, Any] = {}
        self.order = 0  # in which those within one are laid out
        self.rect = (0, 0, 1, 1)
        self.propagates = True
        self.wanted_within: tuple[int, int] | None = None  # for what was in it last
        self.text = ""  # what is written into it
        self.cursor = 0  # where the next letter goes
        self.lines: list[Any] = []
        self.selected: set[int] = set()
        self.entries: list[dict[str, Any]] = []  # of a menu
        self.tree = Tree()  # of rows and columns
        self.rows: dict[tuple[str, int], dict[str, Any]] = {}  # weights and sizes of the grid within
        self.title, self.size, self.is_shown = "", "", True  # of a window

    @property
    def parent(self) -> str:
        """The path of the widget around it; '' for the first window."""
        if self.path == ".":
            return ""
        return self.path.rpartition(".")[0] or "."

    @property
    def around(self) -> str:
        """The path of the widget that it is laid out in."""
        return as_text(self.place.get("in", self.parent))

    @property
    def bare_class(self) -> str:
        """Its class, without what tells those of `ttk` from others."""
        is_themed = self.kind.startswith("ttk") and self.class_ != "Treeview"
        return self.class_.removeprefix("T") if is_themed else self.class_

    @property
    def is_window(self) -> bool:
        """Whether it is a window of its own."""
        return self.class_ in ("Toplevel", "Tk")

    @property
    def is_button(self) -> bool:
        """Whether it is pressed, and then runs a command."""
        return self.bare_class in ("Button", "Checkbutton", "Radiobutton")

    @property
    def shows_text(self) -> bool:
        """Whether letters are typed into it."""
        return self.class_ in ("Entry", "Spinbox", "TEntry", "TCombobox", "TSpinbox", "Text")

    def name(self, option: str) -> str:
        """An option's own name. Raises TclError for one that this kind does not have."""
        bare = option.lstrip("-")
        full = SYNONYMS.get(bare, bare)
        if self._known is not None and full not in self._known:
            matching = [its for its in self._known if its.startswith(bare)]
            if len(matching) != 1:
                raise TclError(f'unknown option "-{bare}"')
            full = matching[0]
        return full

    def get(self, option: str) -> Any:
        """What an option is."""
        return self.options.get(option, default(self.class_, option))

    def text_of(self, option: str) -> str:
        """The same as text."""
        return as_text(self.get(option))

    def size_of(self, option: str) -> float:
        """The same as a distance."""
        value = self.get(option)
        return number(value) if as_text(value) else 0.0

    def configure(self, words: tuple[Any, ...]) -> None:
        """Sets options. Raises TclError."""
        given = {self.name(name): value for name, value in options(words).items()}
        for name, value in given.items():
            if name.endswith(_COLOURS) and as_text(value):
                rgb(value)  # which refuses what is none
            elif name in _NUMBERS and as_text(value):
                given[name] = number(value)
            elif self._known is not None:
                _check_word(self.class_, name, as_text(value))
        self.options.update(given)

    def configuration(self, option: str) -> tuple[Any, ...]:
        """One option as Tk tells it: with its names, its default and its value."""
        name = self.name(option)
        return (f"-{name}", name, name.capitalize(), default(self.class_, name), self.get(name))

    @property
    def option_names(self) -> list[str]:
        """All options."""
        return sorted(self._known if self._known is not None else {*self.options, "style", "class"})
