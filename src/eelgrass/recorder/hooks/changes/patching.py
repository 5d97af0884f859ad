"""Which rule tells what is different in an object."""

from __future__ import annotations

from typing import Any

from eelgrass.recorder.hooks.changes.keyed_patching import KeyedPatching
from eelgrass.recorder.hooks.changes.sequence_patching import SequencePatching
from eelgrass.recorder.hooks.changes.ways import Ways
from eelgrass.recorder.hooks.log import Log


class Patching:
    """Tells of changes by what they changed. `sizes` are those that were told last, by the objects' numbers."""

    def __init__(self, log: Log) -> None:
        self._registry = log.registry
        self.sizes: dict[int, int] = {}
        self.ways = Ways(log.registry, self.sizes)
        self.sequences = SequencePatching(log, self.sizes)
        self.keyed = KeyedPatching(log, self.sizes, self.ways.watched)

    def tell(self, owner: Any, number: int, method: str, key: Any, result: Any, certain: bool) -> bool:
        """Tells what a method, or anything for '', has changed in a known object; whether that was possible. What
        may be another object by now than when it was numbered is told whole."""
        kind = type(owner)
        if kind is list:
            size = self.sizes.get(number)
            if method == "append" and owner and (size is None or size == len(owner) - 1):
                self.sequences.append(owner, number)
                if size is not None:
                    self.sizes[number] = size + 1
                return True
            if method == "pop last" and (size is None or size == len(owner) + 1):
                self.sequences.pop_last(owner, number)
                if size is not None:
                    self.sizes[number] = size - 1
                return True
        if self._registry.numbers.get(owner) != number:
            return False
        shape = self._registry.facts(kind).shape
        if shape == "list":
            return self.sequences.tell(owner, number, method, key, certain)
        if shape == "set" and issubclass(kind, set):
            return self.keyed.tell_set(owner, number, method, key, result, certain)
        return shape == "dict" and self.keyed.tell_dict(owner, number, method, key, result, certain)
