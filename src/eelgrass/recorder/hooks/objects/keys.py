"""Keys of dictionaries and elements of sets, which are never asked whether they equal one another."""

from __future__ import annotations

from _collections import OrderedDict  # type: ignore[import-not-found]  # `collections` would take long to load
from _operator import itemgetter
from contextlib import suppress
from itertools import islice
from typing import Any

#: Types of which nobody can tell how long their objects live. By identity: a hash of a class may be the program's own.
SIMPLE_TYPES = frozenset(map(id, (int, str, float, bool, bytes, complex, type(None))))
KEY_OF, VALUE_OF = itemgetter(0), itemgetter(1)


def is_unmistakable(key: Any) -> bool:
    """Whether no key of another type than text, numbers, or tuples of these equals a dictionary's key, and it can be
    told apart from all that are told differently."""
    kind = type(key)
    if kind is tuple:
        return all(type(part) is str or type(part) is int for part in key)
    if kind is float:
        return not key.is_integer() and key == key
    return kind is str or kind is int or kind is bytes or key is None


def pairs_of(obj: Any, most: int | None = None) -> list[tuple[Any, Any]]:
    """The first keys and values of a dictionary, in the order in which the program would meet them: of an OrderedDict
    that can be told only where asking for it runs no code of the program."""
    pairs = list(islice(dict.items(obj), most))
    if issubclass(type(obj), OrderedDict) and all(map(is_unmistakable, map(KEY_OF, pairs))):
        with suppress(KeyError, RuntimeError):  # methods of dict, called for it, bring its order out of step
            return [(key, dict.__getitem__(obj, key)) for key in islice(OrderedDict.__iter__(obj), most)]
    return pairs
