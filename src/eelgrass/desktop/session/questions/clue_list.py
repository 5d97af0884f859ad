"""The clues of the run on view, and which kinds of them are wanted."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.background import Lane
from eelgrass.desktop.services.settings import Settings
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.breakpoint_set import BreakpointSet
from eelgrass.desktop.session.session import Session
from eelgrass.reading.clues.catalogue import kind_of
from eelgrass.reading.clues.clue import LIKELY, Clue, Kind
from eelgrass.reading.clues.finding import find_clues
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording
from eelgrass.reading.stated.stated_claims import StatedClaim, stated_claims

#: Finds the clues of a run.
Finder = Callable[[Recording, Progress], list[Clue]]


class ClueList(QObject):
    """Clues are looked for on a thread of their own when a whole run comes on view. `forbidden` says why none are
    shown; `finder` gives what finds those of the run on view, on that thread. Signal: `changed` when other clues are
    shown."""

    changed = pyqtSignal()

    def __init__(self, session: Session, settings: Settings, breakpoints: BreakpointSet) -> None:
        super().__init__()
        self._session, self._settings, self._breakpoints = session, settings, breakpoints
        self._found: list[Clue] = []
        self._stated: list[StatedClaim] = []
        self._found_in: Recording | None = None  # others may tell of another one on view before this does
        self.forbidden: Callable[[], str] = lambda: ""
        self.finder: Callable[[], Finder] = lambda: find_clues
        self.lane = Lane("clues")
        self.lane.done.connect(self._take)
        self.lane.failed.connect(lambda _: self._take(([], [])))
        session.opened.connect(self.look)
        session.revealed.connect(self.look)
        settings.changed.connect(self.changed)
        breakpoints.changed.connect(self.changed)

    def look(self) -> None:
        """Looks for the clues of the run on view, if all of it may be seen."""
        self.lane.give_up()
        self._found, self._stated = [], []
        self._found_in = recording = self._session.recording
        if recording is not None and self._is_over(recording) and self._session.visible.is_whole:
            find = self.finder()
            self.lane.start(lambda progress: (find(recording, progress), stated_claims(recording.trace)))
        self.changed.emit()

    def _is_over(self, recording: Recording) -> bool:
        return recording.trace.outcome.outcome != "running"

    def _take(self, found: tuple[list[Clue], list[StatedClaim]]) -> None:
        self._found, self._stated = found
        self.changed.emit()

    # What is shown

    @property
    def shown(self) -> list[Clue]:
        """The clues of the wanted kinds, the strongest first; none while an exercise does not want any."""
        off = self._settings.values.clues_off
        is_on_view = self._found_in is self._session.recording and not self.forbidden()
        return [its for its in self._found if its.kind not in off] if is_on_view else []

    @property
    def likely(self) -> list[Clue]:
        """Those that are shown at once."""
        return [its for its in self.shown if its.strength >= LIKELY]

    @property
    def stated(self) -> list[StatedClaim]:
        """What the text states itself, and is not claimed yet."""
        is_on_view = self._found_in is self._session.recording
        return [its for its in self._stated if is_on_view and its.claim not in self._breakpoints.breakpoints]

    def claim(self, its: StatedClaim) -> None:
        """Claims what the text states."""
        self._breakpoints.add(its.claim)

    @property
    def words(self) -> str:
        """Why there are none, in a sentence; '' where there are some."""
        recording = self._session.recording
        if self.shown or recording is None:
            return ""
        if self.forbidden():
            return self.forbidden()
        if not self._session.visible.is_whole:
            return tr("Clues come when the whole run may be seen.")
        if not self._is_over(recording):
            return tr("Clues come when the run is over.")
        if self.lane.is_busy:
            return tr("Looking for what is usually mistaken…")
        return tr("Nothing in this run looks like a usual mistake.")

    # Kinds

    @property
    def off(self) -> list[Kind]:
        """The kinds that are switched off."""
        kinds = map(kind_of, self._settings.values.clues_off)
        return [its for its in kinds if its is not None]

    def switch_off(self, kind: str) -> None:
        """No clues of a kind are shown any more."""
        off = self._settings.values.clues_off
        self._settings.change(clues_off=tuple(dict.fromkeys((*off, kind))))

    def switch_on(self) -> None:
        """Clues of all kinds are shown."""
        self._settings.change(clues_off=())
