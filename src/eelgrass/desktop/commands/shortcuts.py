"""Which keys do what: those of the table of actions, unless the person has chosen others."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QWidget

from eelgrass.desktop.commands.action_table import ACTIONS
from eelgrass.desktop.services.translation import tr

_TIPS = {action.id: action.tip for action in ACTIONS}
_USUAL = {action.id: action.keys for action in ACTIONS}


class Shortcuts:
    """Gives the actions, by id, their keys. `kept` is how other keys are kept: the id, an equals sign, the keys with
    blanks between them."""

    def __init__(self, actions: dict[str, QAction], kept: Iterable[str]) -> None:
        self._actions = actions
        told = dict(its.partition("=")[::2] for its in kept)
        self._changed = {name: tuple(keys.split()) for name, keys in told.items() if name in _USUAL}
        self._writes = False
        self._give()

    @property
    def kept(self) -> tuple[str, ...]:
        """The changed keys, to be kept."""
        return tuple(f"{name}={' '.join(keys)}" for name, keys in self._changed.items())

    def keys(self, name: str) -> tuple[str, ...]:
        """The keys of an action."""
        return self._changed.get(name, _USUAL[name])

    def share(self, name: str, window: QWidget) -> None:
        """Has the keys of an action do the same in another window."""
        window.addAction(self._actions[name])

    def is_changed(self, name: str) -> bool:
        """Whether an action has other keys than usual."""
        return name in self._changed

    def write(self, writes: bool) -> None:
        """While the person writes, keys without Ctrl are letters."""
        self._writes = writes
        self._give()

    def change(self, name: str, key: str) -> str:
        """Gives an action another key, '' for none; gives a sentence when another action has that, and changes
        nothing."""
        holder = next((its for its in ACTIONS if its.id != name and key and key in self.keys(its.id)), None)
        if holder is not None:
            return tr("{0} is the key of “{1}” already.").format(key, tr(holder.title))
        self._changed[name] = (key,) if key else ()
        if self._changed[name] == _USUAL[name]:
            del self._changed[name]
        self._give()
        return ""

    def reset(self, name: str) -> str:
        """Gives an action its usual keys back; gives a sentence when another action has one of them by now."""
        for key in _USUAL[name]:
            holder = next((its for its in ACTIONS if its.id != name and key in self.keys(its.id)), None)
            if holder is not None:
                return tr("{0} is the key of “{1}” already.").format(key, tr(holder.title))
        self._changed.pop(name, None)
        self._give()
        return ""

    def _give(self) -> None:
        for action in ACTIONS:
            keys = self.keys(action.id)
            its = self._actions[action.id]
            its.setShortcuts([QKeySequence(key) for key in keys if "Ctrl" in key or not self._writes])
            its.setToolTip(self.tip(action.id))

    def tip(self, name: str) -> str:
        """What an action does, in few words, with its keys."""
        keys, tip = self.keys(name), tr(_TIPS[name])
        return f"{tip} ({', '.join(keys)})" if keys else tip
