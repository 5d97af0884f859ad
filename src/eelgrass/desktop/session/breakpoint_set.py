"""Breakpoints, notes, claims and bookmarks, with what they hit in the recording on view."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.background import Lane
from eelgrass.desktop.session.session import Session
from eelgrass.reading.breakpoints.breakpoint import Breakpoint, Hits, hits, is_quick
from eelgrass.reading.recording import Recording
from eelgrass.trace.columns import Ints, distinct, find
from eelgrass.trace.program import Place

#: What is known of a breakpoint while its question is being asked.
PENDING = Hits(why="looking through the run …")
#: What is known of one whose question could not be asked, through an error of ours.
FAILED = Hits(why="it could not be looked for")


class BreakpointSet(QObject):
    """`bookmarks` are steps, in order; `hits` what each of `breakpoints` hit. Signal: `changed` when any of these have,
    or one may see further."""

    changed = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.bookmarks: list[int] = []
        self.breakpoints: list[Breakpoint] = []
        self.hits: list[Hits] = []
        self.lane = Lane("breakpoints")
        self.lane.done.connect(self._take_found)
        self.lane.failed.connect(self._take_failure)
        self._known: dict[Breakpoint, Hits] = {}
        self._known_in: Recording | None = None
        session.opened.connect(lambda: self.set_breakpoints(self.breakpoints))
        session.revealed.connect(self.changed)

    def forget(self) -> None:
        """Another program is being opened."""
        self.bookmarks = []
        self.set_breakpoints([])

    # Bookmarks

    def set_bookmarks(self, steps: list[int]) -> None:
        """Sets all bookmarks anew."""
        self.bookmarks = sorted(steps)
        self.changed.emit()

    def toggle_bookmark(self) -> None:
        """Sets a bookmark at the shown step, or takes it away."""
        if self._session.recording is not None:
            self.set_bookmarks(sorted({*self.bookmarks} ^ {self._session.step}))

    def go_on(self, forward: bool) -> None:
        """Goes to the next bookmark or hit of a breakpoint, or to the one before."""
        stops, step = self.stops, self._session.step
        place = find(stops, step + 1) if forward else find(stops, step) - 1
        if 0 <= place < len(stops):
            self._session.go(int(stops[place]))

    # Breakpoints

    def set_breakpoints(self, breakpoints: list[Breakpoint]) -> None:
        """Sets all breakpoints anew. The hits of most are known at once; questions are asked on another thread."""
        self.breakpoints = sorted(breakpoints, key=_order)
        recording = self._session.recording
        if recording is not self._known_in:
            self._known, self._known_in = {}, recording
        if recording is not None:
            quick = (its for its in self.breakpoints if its not in self._known and is_quick(its))
            self._known.update({its: hits(recording, its) for its in quick})
        self._take_hits()
        wanted = [its for its in self.breakpoints if its not in self._known]
        if recording is not None and wanted:
            self.lane.start(lambda progress: {its: hits(recording, its, progress) for its in wanted})
        else:
            self.lane.give_up()  # what is still being looked for was of another recording, or is wanted no longer

    def _take_found(self, found: dict[Breakpoint, Hits]) -> None:
        self._known.update(found)
        self._take_hits()

    def _take_failure(self, _error: Exception) -> None:
        self._known.update({its: FAILED for its in self.breakpoints if its not in self._known})
        self._take_hits()

    def _take_hits(self) -> None:
        self.hits = [self._known.get(its, PENDING if self._session.recording else Hits()) for its in self.breakpoints]
        self.changed.emit()

    def take_moved(self, breakpoints: list[Breakpoint]) -> None:
        """The breakpoints have gone with their statements to changed texts; they are looked for when the recording of
        these comes on view."""
        self.breakpoints = sorted(breakpoints, key=_order)
        self._take_hits()

    def put(self, row: int, *changed: Breakpoint) -> None:
        """Puts another breakpoint, or none, in the place of one."""
        self.set_breakpoints([*self.breakpoints[:row], *changed, *self.breakpoints[row + 1 :]])

    def add(self, its: Breakpoint) -> None:
        """Sets one more."""
        self.set_breakpoints([*self.breakpoints, its])

    def toggle(self, place: Place, statement: str) -> None:
        """Sets a breakpoint on a line, or takes those of the line away."""
        others = [its for its in self.breakpoints if (its.file, its.line, its.kind) != (place.file, place.line, "line")]
        if len(others) < len(self.breakpoints):
            self.set_breakpoints(others)
        else:
            self.add(Breakpoint(place.file, place.line, statement=statement))

    def switch_all(self) -> None:
        """Switches all breakpoints off, or, when they all are, on again."""
        on = not any(its.on for its in self.breakpoints)
        self.set_breakpoints([replace(its, on=on) for its in self.breakpoints])

    # What came of them

    def _pairs(self) -> Iterator[tuple[Breakpoint, Hits]]:
        return zip(self.breakpoints, self.hits, strict=True)

    @property
    def shown(self) -> list[tuple[Breakpoint, Hits]]:
        """Each breakpoint with the hits that may be seen."""
        cut = self._session.visible.cut
        return [(its, replace(told, steps=cut(told.steps))) for its, told in self._pairs()]

    @property
    def log(self) -> list[tuple[int, str]]:
        """What is noted as far as it may be seen, and where: (step, text), in order of time."""
        rows = [
            row for its, told in self.shown if its.note for row in zip(told.steps.tolist(), told.notes, strict=False)
        ]
        return sorted(rows)

    @property
    def breaches(self) -> Ints:
        """The steps at which a claim is broken."""
        return distinct(
            np.concatenate([np.zeros(0, np.int64), *(told.steps for its, told in self._pairs() if its.claims)])
        )

    @property
    def stops(self) -> Ints:
        """The bookmarks, and the hits of all breakpoints that stop: not the notes, and of a claim only its breach."""
        found = [np.array(self.bookmarks, np.int64)]
        for its, told in self._pairs():
            found.append(told.steps[:1] if its.claims else told.steps[:0] if its.note else told.steps)
        return distinct(np.concatenate(found))


def _order(its: Breakpoint) -> tuple[str, int, str, str]:
    return its.file, its.line, its.kind, its.name
