"""The shapes of a canvas's items: how far they are from a place, and whether they reach into a rectangle."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from itertools import pairwise
from typing import NamedTuple

Point = tuple[float, float]
Box = tuple[float, float, float, float]

#: A curve is worked out as so many straight lines.
_PIECES = 72
_EDGE = 1e-6  # pixels


class Shape(NamedTuple):
    """Lines from point to point, `half` as thick to each side; if it `is_filled`, what they go round is part of it."""

    points: Sequence[Point]
    is_filled: bool
    half: float = 0.0

    @property
    def lines(self) -> Iterator[tuple[Point, Point]]:
        """From each point to the next; one point is a line to itself."""
        return pairwise(self.points if len(self.points) > 1 else [*self.points] * 2)

    def distance(self, place: Point) -> float:
        """How far a place is from it, in pixels; 0 within."""
        if self.is_filled and _is_within(self.points, place):
            return 0.0
        return max(min(_from_line(place, *its) for its in self.lines) - self.half, 0.0) if self.points else math.inf

    def reaches(self, area: Box) -> bool:
        """Whether any of it lies in a rectangle: left, top, right, bottom; to touch its edge is not enough."""
        if not self.points:
            return False
        across, down = (min(_EDGE, (area[axis + 2] - area[axis]) / 2) for axis in range(2))
        area = area[0] + across, area[1] + down, area[2] - across, area[3] - down
        if self.is_filled and _is_within(self.points, area[:2]):
            return True
        wide = area[0] - self.half, area[1] - self.half, area[2] + self.half, area[3] + self.half
        return any(_cuts(wide, *its) and self._comes_near(area, *its) for its in self.lines)

    def _comes_near(self, area: Box, start: Point, end: Point) -> bool:
        """Whether a line comes as near to a rectangle as it is thick."""
        left, top, right, bottom = area
        corners = [_from_line(its, start, end) for its in ((left, top), (right, top), (left, bottom), (right, bottom))]
        ends = [math.hypot(max(left - x, 0, x - right), max(top - y, 0, y - bottom)) for x, y in (start, end)]
        return _cuts(area, start, end) or min(*corners, *ends) <= self.half


def rectangle(box: Box, is_filled: bool, half: float = 0.0) -> Shape:
    """Its four sides."""
    left, top, right, bottom = box
    return Shape([(left, top), (right, top), (right, bottom), (left, bottom), (left, top)], is_filled, half)


def curve(box: Box, start: float, extent: float, how: str, is_filled: bool, half: float) -> Shape:
    """A part of an ellipse, from an angle on, in degrees, counted as Tk does: from the right, upwards; as an "arc", a
    "chord", or a "pieslice"."""
    left, top, right, bottom = box
    middle, radii = ((left + right) / 2, (top + bottom) / 2), ((right - left) / 2, (bottom - top) / 2)
    angles = [math.radians(start + extent * place / _PIECES) for place in range(_PIECES + 1)]
    points = [(middle[0] + radii[0] * math.cos(its), middle[1] - radii[1] * math.sin(its)) for its in angles]
    if how == "pieslice" and abs(extent) < 360:
        points = [middle, *points, middle]
    elif how == "chord":
        points = [*points, points[0]]
    return Shape(points, is_filled and how != "arc", half)


def _is_within(points: Sequence[Point], place: Point) -> bool:
    """Whether a place lies inside (even-odd rule)."""
    x, y = place
    crossings = 0
    for (ax, ay), (bx, by) in pairwise(points):
        if (ay > y) != (by > y):
            crossings += x < (bx - ax) * (y - ay) / (by - ay) + ax
    return crossings % 2 == 1


def _from_line(place: Point, start: Point, end: Point) -> float:
    across, down = end[0] - start[0], end[1] - start[1]
    length = across * across + down * down
    share = ((place[0] - start[0]) * across + (place[1] - start[1]) * down) / length if length else 0.0
    share = min(max(share, 0.0), 1.0)
    return math.hypot(place[0] - start[0] - share * across, place[1] - start[1] - share * down)


def _cuts(area: Box, start: Point, end: Point) -> bool:
    """Whether a line has a part in a rectangle (clipping after Liang and Barsky, 1984)."""
    low, high = 0.0, 1.0
    for axis in range(2):
        step = end[axis] - start[axis]
        for edge, sign in ((area[axis], -1), (area[axis + 2], 1)):
            room, towards = (edge - start[axis]) * sign, step * sign
            if towards == 0:
                if room < 0:
                    return False
            elif towards < 0:
                low = max(low, room / towards)
            else:
                high = min(high, room / towards)
    return low <= high
