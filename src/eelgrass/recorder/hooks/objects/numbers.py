"""The numbers of the program's objects, by identity. Compiled, this is `numbers.pyx`, which also notices when most
objects go; here that needs a weak reference to an object, or the object kept."""

from __future__ import annotations

from typing import Any


class Numbers:
    """Numbers of objects that are alive for certain."""

    def __init__(self) -> None:
        self._of: dict[int, int] = {}

    def get(self, obj: Any) -> int:
        """The number of an object; -1 for one that has none."""
        return self._of.get(id(obj), -1)

    def at(self, key: int, number: int) -> Any:
        """The object with this identity, if it lives and still has this number; else None. Here nothing knows it."""
        return None

    def put(self, obj: Any, number: int) -> bool:
        """Gives an object its number. Says whether its end will be noticed here."""
        self._of[id(obj)] = number
        return False

    def drop(self, key: int) -> int:
        """The object with this identity has no number any longer; gives what it was, or -1."""
        return self._of.pop(key, -1)

    def gone(self) -> list[int]:
        """The numbers of objects that have gone since this was asked last, of those whose end is noticed here."""
        return []

    def clear(self) -> None:
        """Forgets all."""
        self._of.clear()
