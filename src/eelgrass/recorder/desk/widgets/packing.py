"""How `pack` shares out the space of a widget: each takes a slice of the cavity that is left (Tk's packer)."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from eelgrass.recorder.desk.language.letters import anchored

#: Left, top, width, height, in pixels.
Rect = tuple[int, int, int, int]


class Packed(NamedTuple):
    """What is packed: `width` and `height` that it wants, with its inner padding; the padding around it."""

    width: int
    height: int
    left: int
    right: int
    above: int
    below: int
    side: str
    fill: str
    anchor: str
    expands: bool

    @property
    def across(self) -> int:
        """How wide it is with its padding."""
        return self.width + self.left + self.right

    @property
    def down(self) -> int:
        """How high it is with its padding."""
        return self.height + self.above + self.below

    @property
    def is_down(self) -> bool:
        """Whether its slice goes over the whole width."""
        return self.side in ("top", "bottom")


def wanted(packed: Sequence[Packed]) -> tuple[int, int]:
    """How much space they want in all."""
    width = height = most_width = most_height = 0
    for its in packed:
        if its.is_down:
            most_width = max(most_width, its.across + width)
            height += its.down
        else:
            most_height = max(most_height, its.down + height)
            width += its.across
    return max(most_width, width), max(most_height, height)


def arranged(packed: Sequence[Packed], room: Rect) -> Iterator[Rect | None]:
    """Where each of them lies; None for one that has no room left."""
    x, y, width, height = room
    for place, its in enumerate(packed):
        if its.is_down:
            slice_ = min(its.down + (_expansion(packed[place:], True, height) if its.expands else 0), height)
            height -= slice_
            slot = (x, y if its.side == "top" else y + height, width, slice_)
            y += slice_ if its.side == "top" else 0
        else:
            slice_ = min(its.across + (_expansion(packed[place:], False, width) if its.expands else 0), width)
            width -= slice_
            slot = (x if its.side == "left" else x + width, y, slice_, height)
            x += slice_ if its.side == "left" else 0
        yield _within(its, slot)


def _within(its: Packed, slot: Rect) -> Rect | None:
    free_across, free_down = slot[2] - its.left - its.right, slot[3] - its.above - its.below
    width = free_across if its.fill in ("x", "both") else min(its.width, free_across)
    height = free_down if its.fill in ("y", "both") else min(its.height, free_down)
    if width <= 0 or height <= 0:
        return None
    x, y = anchored(its.anchor, free_across - width, free_down - height)
    return slot[0] + its.left + int(x), slot[1] + its.above + int(y), width, height


def _expansion(rest: Sequence[Packed], is_down: bool, room: int) -> int:
    """How much more the first of those that are left may take, so that all that expand get as much."""
    least, expanding = room, 0
    for its in rest:
        size = its.down if is_down else its.across
        if its.is_down != is_down:
            least = min(least, (room - size) // expanding) if expanding else least
        else:
            room -= size
            expanding += its.expands
    return max(min(least, room // expanding) if expanding else least, 0)
