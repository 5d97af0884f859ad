"""Rows with the same numbers in some columns."""

from __future__ import annotations

import numpy as np

from eelgrass.trace.columns import Ints, Wides, numbered

#: Below this, numbers of groups can be put together with those of one more column.
_MOST = 1 << 62


def groups(*columns: Ints) -> tuple[Wides, Wides]:
    """(the first row of each group; the group of each row). Numbers are -1 or more."""
    found = np.zeros(len(columns[0]), np.int64)
    size = 1
    for column in columns:
        distinct, places = numbered(column.astype(np.int64) + 1)
        if size * max(len(distinct), 1) >= _MOST:
            smaller, found = np.unique(found, return_inverse=True)
            size = len(smaller)
        found = found * len(distinct) + places
        size *= max(len(distinct), 1)
    _, first, group = np.unique(found, return_index=True, return_inverse=True)
    return first.astype(np.int64), group.astype(np.int64)


def nth_in_group(group: Ints) -> Wides:
    """For each row, how many of its group come before it."""
    order = np.argsort(group, kind="stable")
    begins = np.diff(group[order], prepend=-1) != 0
    count = np.arange(len(order))
    found = np.empty(len(order), np.int64)
    found[order] = count - np.maximum.accumulate(np.where(begins, count, 0))
    return found
