"""Hooks for what leads into objects past every statement."""

from __future__ import annotations

from typing import Any

from eelgrass.recorder.hooks.changes.changes import Changes
from eelgrass.recorder.hooks.changes.reaching import reach
from eelgrass.recorder.hooks.changes.ways import AT_ENDS, GROWING
from eelgrass.recorder.hooks.log import Log
from eelgrass.recorder.hooks.objects.keys import SIMPLE_TYPES


class Leading:
    """Notes the ways that the program opens, and looks where they lead."""

    def __init__(self, log: Log, changes: Changes) -> None:
        self._log = log
        self._registry = log.registry
        self._changes = changes
        self._patching = changes.patching
        self._ways = changes.patching.ways

    def escaping(self, method: Any) -> Any:
        """A method that changes its receiver is kept: whoever calls it later, the receiver is looked at."""
        receiver, _ = reach(method, self._log.mark)
        if receiver is not None and id(type(receiver)) not in SIMPLE_TYPES:
            number = self._registry.ref(receiver)
            self._ways.keep(method, receiver, number)
            if number not in self._patching.sizes:  # from now on it will be enough to know how long it is
                self._changes.changed(receiver)
        return method

    def opened(self, result: Any, owner: Any) -> Any:
        """The dictionary of an object's fields is handed out."""
        if self._ways.hand_out(owner) and self._registry.known(result) is not None:
            self._changes.changed(result)  # fields may have been stored while nobody else had it
        return result

    def look_again(self) -> None:
        """A statement begins: what may have been changed past every statement is looked at."""
        for owner, by in self._ways.changed():
            if by == GROWING:
                self._changes.filled(owner)
            else:
                self._changes.changed(owner)
            if by == AT_ENDS:
                self._patching.sequences.remember(owner, self._registry.numbers.get(owner))
