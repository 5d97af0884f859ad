"""Where linked nodes go: chains in a row, trees with parents above the middle of their children.

The same nodes and links always go to the same places. The branches of a tree never cross; what links beside the tree
may. The tree is the one that a search by breadth finds from the first node; leaves get their columns in order, and a
parent stands midway between its first and last child (after Wetherell and Shannon 1979, without their corrections).
"""

from __future__ import annotations

from eelgrass.reading.pictures.shapes import Nodes

#: A chain goes on in another row after so many nodes.
ROW = 6


def places(its: Nodes) -> list[tuple[float, float]]:
    """(column, row) of each node, from 0."""
    children: list[list[int]] = [[] for _ in its.nodes]
    seen, waiting = {0}, [0]
    for node in waiting:  # which grows meanwhile
        for link in its.links:
            if link.source == node and link.target not in seen:
                seen.add(link.target)
                children[node].append(link.target)
                waiting.append(link.target)
    if all(len(its) < 2 for its in children):
        return [(float(place % ROW), float(place // ROW)) for place in _in_chain(children, len(its.nodes))]
    found: dict[int, tuple[float, float]] = {}
    _place(0, 0, 0.0, children, found)
    return [found.get(place, (0.0, 0.0)) for place in range(len(its.nodes))]


def _in_chain(children: list[list[int]], count: int) -> list[int]:
    """The place of each node along the chain."""
    order = [0]
    while children[order[-1]]:
        order.append(children[order[-1]][0])
    return [order.index(node) if node in order else node for node in range(count)]


def _place(node: int, row: int, left: float, children: list[list[int]], found: dict[int, tuple[float, float]]) -> float:
    """Places a node and all below it from a column on; gives the first column that is free after them."""
    free = left
    for child in children[node]:
        free = _place(child, row + 1, free, children, found)
    if not children[node]:
        found[node] = (left, float(row))
        return left + 1
    first, last = found[children[node][0]][0], found[children[node][-1]][0]
    found[node] = ((first + last) / 2, float(row))
    return free
