"""How far two lists have the same elements, by identity. Compiled, this is `comparing.pyx`."""

from __future__ import annotations

from _operator import is_not
from itertools import compress, count, islice
from typing import Any


def same_front(its: list[Any], others: list[Any], most: int) -> int:
    """How many elements are the same at the beginning, of so many."""
    return next(compress(range(most), map(is_not, its, others)), most)


def same_back(its: list[Any], others: list[Any], most: int) -> int:
    """How many elements are the same at the end, of so many."""
    return next(compress(range(most), map(is_not, reversed(its), reversed(others))), most)


def different(its: list[Any], others: list[Any], first: int, last: int, further: int) -> list[int]:
    """The places from `first` to before `last` whose element is not that of the other list so much further."""
    pairs = map(is_not, islice(its, first, last), islice(others, first + further, None))
    return list(compress(count(first), pairs))
