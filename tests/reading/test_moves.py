"""The moves of `reading.places` against their meaning, spelt out slowly, at every step of two programs."""

from __future__ import annotations

import pytest
from support.judges import CORPUS

from eelgrass.reading.stepping.stepping import Stepping
from eelgrass.runs.order import Order
from eelgrass.runs.run import Run
from eelgrass.trace.model import StepKind, Trace


@pytest.fixture(scope="module", params=["shoot_recursion", "mud_walk"])
def trace(request: pytest.FixtureRequest) -> Trace:
    run = Run(Order(CORPUS / f"{request.param}.py"))
    run.start()
    return run.wait()


class Slowly:
    """The moves by walking through all steps."""

    def __init__(self, trace: Trace) -> None:
        self.frames = trace.steps.frame.tolist()
        kinds = trace.steps.kind.tolist()
        self.stops = [step for step, kind in enumerate(kinds) if kind != StepKind.CALL]
        self.caller = trace.frames.caller.tolist()
        self.last = trace.frames.last.tolist()

    def next_any(self, step: int) -> int:
        return next((stop for stop in self.stops if stop > step), step)

    def previous_any(self, step: int) -> int:
        return next((stop for stop in reversed(self.stops) if stop < step), step)

    def next_line(self, step: int) -> int:
        """The next stop that is not in a call made meanwhile: of this frame, or of the nearest caller that goes on."""
        frame, at = self.frames[step], step
        while frame >= 0:
            found = [stop for stop in self.stops if stop > at and self.frames[stop] == frame]
            if found:
                return found[0]
            at, frame = self.last[frame], self.caller[frame]
        return step

    def previous_line(self, step: int) -> int:
        frame = self.frames[step]
        mine = [stop for stop in self.stops if stop < step and self.frames[stop] == frame]
        if mine:
            return mine[-1]
        callers = [stop for stop in self.stops if stop < step and self.frames[stop] == self.caller[frame]]
        return callers[-1] if callers else step

    def into(self, step: int) -> int:
        following = self.next_any(step)
        called = following != step and self.caller[self.frames[following]] == self.frames[step]
        return following if called and following not in self._mine(step) else self.next_line(step)

    def _mine(self, step: int) -> list[int]:
        return [stop for stop in self.stops if self.frames[stop] == self.frames[step]]


@pytest.mark.parametrize("move", ["next_any", "previous_any", "next_line", "previous_line", "into"])
def test_every_move_from_every_stop_means_what_it_says(trace: Trace, move: str) -> None:
    places, slowly = Stepping(trace), Slowly(trace)
    assert len(slowly.stops) > 60
    for stop in slowly.stops:
        assert getattr(places, move)(stop) == getattr(slowly, move)(stop), f"{move} from {stop}"


def test_out_leads_to_where_the_caller_goes_on(trace: Trace) -> None:
    places, slowly = Stepping(trace), Slowly(trace)
    for stop in slowly.stops:
        frame = slowly.frames[stop]
        if slowly.caller[frame] < 0:
            assert places.out(stop) == stop
            continue
        out = places.out(stop)
        assert out > slowly.last[frame]
        assert int(trace.depths[slowly.frames[out]]) < int(trace.depths[frame])
        assert slowly.frames[places.call_of(stop)] == slowly.caller[frame]


def test_any_number_leads_to_a_stop(trace: Trace) -> None:
    places = Stepping(trace)
    stops = set(places.stops.tolist())
    assert {places.nearest(step) for step in range(len(trace.steps) + 5)} == stops
    assert (places.first(), places.last()) == (min(stops), max(stops))
