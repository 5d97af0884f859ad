"""A recording with everything that can be asked of it, each part made when it is first needed."""

from __future__ import annotations

from functools import cached_property

from eelgrass.reading.calls import Calls
from eelgrass.reading.changes import Changes
from eelgrass.reading.exceptions import Journey, journeys
from eelgrass.reading.layers import Layers
from eelgrass.reading.loops import Loops
from eelgrass.reading.notes import Notes
from eelgrass.reading.output import Piece, pieces
from eelgrass.reading.places import Places
from eelgrass.reading.references import References
from eelgrass.reading.tide import Tide
from eelgrass.reading.visits import Visits
from eelgrass.reading.working import Workings
from eelgrass.trace.model import Trace


class Recording:
    """The questions about one trace, kept together since they share their indexes."""

    def __init__(self, trace: Trace) -> None:
        self.trace = trace
        self.places = Places(trace)
        self.visits = Visits(trace)
        self.changes = Changes(trace, self.places)
        self.loops = Loops(trace, self.places, self.visits)
        self.notes = Notes(trace, self.places, self.visits, self.changes, self.loops)
        self.workings = Workings(trace, self.places, self.loops, self.notes)
        self.calls = Calls(trace)
        self.references = References(trace)
        self.tide = Tide(trace)
        self.layers = Layers(trace, self.places, self.references)

    @cached_property
    def exceptions(self) -> list[Journey]:
        """The ways of all exceptions."""
        return journeys(self.trace, self.places)

    def journey_at(self, step: int) -> Journey | None:
        """The way of the exception that passes at a RAISE step."""
        return next((way for way in self.exceptions if any(its.step == step for its in way.stations)), None)

    @cached_property
    def output(self) -> list[Piece]:
        """Everything printed and typed, in order."""
        return pieces(self.trace)

    def prepare(self) -> None:
        """Makes the indexes that the first view needs; meant for a thread that nobody waits for."""
        _ = self.trace.histories, self.trace.depths, self.output, self.exceptions
        if len(self.trace.steps):
            self.layers.at(self.places.first())
            self.visits.counts(0, 0)

    def module_at(self, step: int) -> int:
        """The module whose text a step stands in."""
        return self.trace.function_of_frame(self.places.frame_of(step)).module
