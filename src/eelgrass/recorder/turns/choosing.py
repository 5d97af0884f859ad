"""Whose turn it is: the rule by which threads follow one another, the same in each run of a case."""

from __future__ import annotations

from _random import Random
from collections.abc import Sequence
from typing import TypeVar

#: A thread that never waits is on for so many steps, at the least and at the most: no fixed number, or it might be
#: in the middle of the same statement at the end of each turn.
_SHORTEST, _LONGEST = 400, 1200
#: How likely another thread is to go on at a step, by the order's number.
_LIKELY = (0.5, 0.2, 0.05)

_Thread = TypeVar("_Thread")


class Choosing:
    """The order with a `number`, with `switches` besides: pairs of a place (how many steps there were before) and the
    number of the thread that goes on there. In order 0 a thread is on until it has to wait, or has been for long, and
    a new one is next, as in a plain run, mostly; in
    the others, chance that follows from the number says who is next."""

    def __init__(self, number: int, switches: Sequence[Sequence[int]]) -> None:
        self._chance = Random(number)
        self._is_drawn = number != 0
        self._likely = _LIKELY[number % len(_LIKELY)]
        self._switches = {place: thread for place, thread in switches}
        self._turn_ends = 0
        self._began(0)

    def is_over(self, place: int) -> bool:
        """Whether the thread that is on is to hand over before the step at `place`."""
        if place in self._switches:
            return True
        if self._is_drawn:
            return self._chance.random() < self._likely
        return place >= self._turn_ends

    def next(self, place: int, on: int, others: Sequence[int], newest: int) -> int:
        """Which of the numbers of threads that can go on, in ascending order, is next after number `on`; `newest` is
        the highest of those that have never been on, -1 if all have."""
        self._began(place)
        switched = self._switches.get(place)
        if switched is not None and switched in others:
            return switched
        if self._is_drawn:
            return others[int(self._chance.random() * len(others))]
        if newest >= 0:
            return newest
        return next((number for number in others if number > on), others[0])

    def _began(self, place: int) -> None:
        if not self._is_drawn:
            self._turn_ends = place + _SHORTEST + int(self._chance.random() * (_LONGEST - _SHORTEST))
