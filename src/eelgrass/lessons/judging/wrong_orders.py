"""Searching an order of turns in which a program with threads goes wrong.

Orders with one switch more than the usual are tried first, then those with two, and so on, since few switches suffice
for most errors (Musuvathi and Qadeer, Iterative context bounding for systematic testing of multithreaded programs,
2007); where a switch may matter, the recordings say. Between them come orders that are drawn by chance.
"""

from __future__ import annotations

import os
import time
from collections import Counter, deque
from collections.abc import Callable, Iterator
from concurrent.futures import FIRST_COMPLETED, Future, ThreadPoolExecutor, wait
from dataclasses import dataclass, replace

from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.judging.judging import broken_claim, other_output
from eelgrass.reading.recording import Recording
from eelgrass.reading.threads.switches import switches
from eelgrass.reading.threads.waiting import waiting_at_the_end
from eelgrass.runs.order import Order, Turns
from eelgrass.runs.run import Run
from eelgrass.trace.model import Texts, Trace

#: Of the switches that a run leaves open, so many are tried.
_MOST_SWITCHES = 400
#: After so many orders one that is drawn.
_DRAWN_EVERY = 3


@dataclass(frozen=True)
class Searched:
    """What came of a search: how many orders were tried; the one that goes wrong and why, in words ('' for none); or
    what keeps threads from taking turns; or `is_alone`: there is one thread only."""

    tried: int
    turns: Turns | None = None
    why: str = ""
    trace: Trace | None = None
    kept_by: str = ""
    is_alone: bool = False


def search(
    order: Order, case: Case, seconds: float = 10.0, goes_on: Callable[[int], bool] = lambda _tried: True
) -> Searched:
    """Runs a case in one order of turns after another until something goes wrong: the output differs, a claim breaks,
    an exception passes, nobody can go on. `goes_on`, told how many were tried, is asked in between. The first run is in
    the usual order. Raises CannotRunError and OSError."""
    ends = time.monotonic() + seconds
    first = _ran(replace(order, turns=Turns()), case)
    taken = first.case.get("turns_taken") or {}
    if taken.get("kept_by"):
        return Searched(1, kept_by=str(taken["kept_by"]))
    if taken.get("threads", 1) < 2:
        return Searched(1, is_alone=True)
    judge = _Judge(case, first)
    why = judge.of(first)
    if why:
        return Searched(1, Turns(), why, first)
    tried, orders = 1, _Orders(first)
    waiting: dict[Future[Trace], Turns] = {}
    with ThreadPoolExecutor(os.cpu_count()) as workers:
        while time.monotonic() < ends and goes_on(tried):
            while len(waiting) < (os.cpu_count() or 1) and (turns := orders.next()) is not None:
                waiting[workers.submit(_ran, replace(order, turns=turns), case)] = turns
            if not waiting:
                break
            for done in wait(waiting, return_when=FIRST_COMPLETED).done:
                turns, trace = waiting.pop(done), done.result()
                tried += 1
                why = judge.of(trace)
                if why:
                    return Searched(tried, turns, why, trace)
                orders.tried(turns, trace)
    return Searched(tried)


def _ran(order: Order, case: Case) -> Trace:
    run = Run(order)
    run.start()
    return run.fed(case.input)


class _Orders:
    """The orders to be tried, those with the fewest switches first."""

    def __init__(self, first: Trace) -> None:
        self._to_try: deque[Turns] = deque(self._with_one_more(Turns(), first))
        self._levels: deque[tuple[Turns, Trace]] = deque()
        self._given, self._drawn = 0, 0

    def next(self) -> Turns | None:
        """The next order; None where no more is known now."""
        self._given += 1
        if self._given % _DRAWN_EVERY == 0:
            self._drawn += 1
            return Turns(self._drawn)
        while not self._to_try and self._levels:
            self._to_try.extend(self._with_one_more(*self._levels.popleft()))
        if self._to_try:
            return self._to_try.popleft()
        self._drawn += 1
        return Turns(self._drawn)

    def tried(self, turns: Turns, trace: Trace) -> None:
        """An order in which nothing went wrong: there are others with one switch more."""
        if not turns.number:
            self._levels.append((turns, trace))

    def _with_one_more(self, turns: Turns, trace: Trace) -> Iterator[Turns]:
        after = turns.switches[-1][0] if turns.switches else -1
        for its in switches(Recording(trace), after)[:_MOST_SWITCHES]:
            yield turns._replace(switches=(*turns.switches, (its.place, its.thread)))


class _Judge:
    """Says what is wrong with a run: by what is expected of its case, else by the run in the usual order, whose lines
    of output another order may only mix."""

    def __init__(self, case: Case, first: Trace) -> None:
        self._case = case
        self._lines = _lines(first)

    def of(self, trace: Trace) -> str:
        """A sentence; '' for nothing."""
        its = trace.outcome
        if its.outcome == "stopped":
            return f"{its.reason} {waiting_at_the_end(Recording(trace)).text}".rstrip()
        if its.outcome == "raised":
            return f"It ended with an exception. {its.reason}"
        errors = "".join(trace.texts.of(Texts.ERRORS)).strip()
        if errors:
            return f"A thread ended with an exception. {errors.rpartition(chr(10))[2]}"
        expects = self._case.output is not None or self._case.pattern is not None
        why = other_output(self._case, "".join(trace.texts.of(Texts.OUTPUT))) if expects else self._other_lines(trace)
        return why or broken_claim(self._case, trace)

    def _other_lines(self, trace: Trace) -> str:
        lines = _lines(trace)
        more, fewer = lines - self._lines, self._lines - lines
        if not more and not fewer:
            return ""
        one = f"“{next(iter(more))}” is printed" if more else f"“{next(iter(fewer))}” is not printed"
        return f"{one}, {f'not “{next(iter(fewer))}”' if more and fewer else 'unlike in the usual order'}."


def _lines(trace: Trace) -> Counter[str]:
    return Counter("".join(trace.texts.of(Texts.OUTPUT)).splitlines())
