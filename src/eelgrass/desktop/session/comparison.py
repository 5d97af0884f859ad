"""The run on view, beside another one."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property, partial

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.background import Lane
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.session.wording import gives_away
from eelgrass.errors import EelgrassError
from eelgrass.reading.comparing.alignment import Alignment
from eelgrass.reading.comparing.differences import Apart, Kind, differences, in_order
from eelgrass.reading.comparing.runs import compare
from eelgrass.reading.comparing.sentences import apart_words, sentence
from eelgrass.reading.comparing.visited import Pair
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording

#: Makes or loads the other run, on another thread. Raises EelgrassError and OSError.
Finding = Callable[[Progress], Recording]


@dataclass(frozen=True)
class Beside:
    """Two runs that are held against each other, the one on view first: both names, what differs first, in a sentence,
    and everything that differs."""

    alignment: Alignment
    own_name: str
    name: str
    said: str
    differences: list[Apart]

    @property
    def other(self) -> Recording:
        """The run that is not on view."""
        return self.alignment.b

    def turned(self) -> Beside:
        """The other run first."""
        turned = in_order([its.turned() for its in self.differences])
        return Beside(self.alignment.turned(), self.name, self.own_name, self.said, turned)

    def words(self, number: int) -> str:
        """A difference in words."""
        return apart_words(self.differences[number], self.alignment)

    def place_of(self, number: int) -> int:
        """The step that shows a difference: where the statement that made it is about to run."""
        return max(self.differences[number].here, 0)

    @cached_property
    def by_place(self) -> dict[Kind | None, tuple[list[int], list[int]]]:
        """For each kind, and for all: (the steps that show them, ascending; the numbers of the differences)."""
        found = {}
        for kind in (None, *Kind):
            numbers = [number for number, its in enumerate(self.differences) if kind in (None, its.kind)]
            numbers.sort(key=self.place_of)
            found[kind] = [self.place_of(number) for number in numbers], numbers
        return found

    @cached_property
    def first_at(self) -> dict[tuple[int, int], int]:
        """For module and line of the run on view: the number of the first difference there."""
        found: dict[tuple[int, int], int] = {}
        run = self.alignment.a
        for number, its in enumerate(self.differences):
            if its.here >= 0:
                found.setdefault((run.module_at(its.here), run.trace.line_of(its.here)), number)
        return found

    def prepare(self) -> Beside:
        """Works out what views ask for, which may take a while."""
        for its in (self.by_place, self.first_at, self.alignment.frames, self.alignment.gaps):
            assert its is not None
        return self


class RunComparison(QObject):
    """While `is_swapping`, the recording that comes on view is the other one of the two.

    Signals: `compared` when another comparison (or none) is on view; `said(sentence)` when there is none, or when
    only the first difference is known yet."""

    compared = pyqtSignal()
    said = pyqtSignal(str)
    _first_known = pyqtSignal(object, str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.lane = Lane("compare")
        self.lane.done.connect(self._take)
        self.lane.failed.connect(lambda error: self.said.emit(str(error)))
        self._first_known.connect(self._say_first)
        self.beside: Beside | None = None
        self._turned: Beside | None = None
        self.is_swapping = False
        session.opened.connect(self._forget)
        session.revealed.connect(self._hide)

    @property
    def step(self) -> int:
        """Where the other run stands; -1 when there is none."""
        return self.beside.alignment.counterpart(self._session.step) if self.beside is not None else -1

    def compare_with(self, find: Finding, name: str, own_name: str) -> None:
        """Holds the run on view against another one, on another thread."""
        recording = self._session.recording
        if recording is None:
            return
        if not self._session.visible.is_whole:
            self.said.emit(gives_away())
            return
        self.beside = self._turned = None
        self.lane.start(partial(self._compared, recording, find, own_name, name))
        self.compared.emit()

    def _compared(
        self, recording: Recording, find: Finding, own_name: str, name: str, progress: Progress
    ) -> tuple[Beside, Beside]:
        """On another thread: the runs held against each other, and turned."""
        other = find(progress)
        if not len(other.stepping.stops):
            raise EelgrassError(tr("Nothing to compare: {0} ended before its first line ran.").format(name))
        other.prepare()
        pair = Pair(recording, other)
        said = sentence(recording, other, compare(recording, other, pair))
        self._first_known.emit(progress, said)
        alignment = Alignment(recording, other, pair)
        beside = Beside(alignment, own_name, name, said, differences(alignment))
        return beside.prepare(), beside.turned().prepare()

    def _say_first(self, progress: Progress, said: str) -> None:
        if self.lane.is_busy and not progress.given_up.is_set():
            self.said.emit(said)

    def _take(self, found: tuple[Beside, Beside]) -> None:
        if self._session.visible.is_whole:
            self.beside, self._turned = found
        self.compared.emit()

    def _hide(self) -> None:
        """Another run would give away what is to be said first."""
        if not self._session.visible.is_whole:
            self.end()

    def _forget(self) -> None:
        if not self.is_swapping:
            self.end()

    def end(self) -> None:
        """Shows one run alone."""
        self.lane.give_up()
        self.beside = self._turned = None
        self.compared.emit()

    def swap(self) -> None:
        """Puts the other run on view, at the same place, and this one beside it."""
        if self.beside is None:
            return
        step, other = self.step, self.beside.other
        self.beside, self._turned = self._turned, self.beside
        self.is_swapping = True
        self._session.show(other, step)
        self.is_swapping = False
        self.compared.emit()

    # From one difference to the next

    def near(self, kind: Kind | None = None, back: bool = False) -> int:
        """The number of the next difference (of a kind) after the shown step, or before it; -1 where there is none."""
        if self.beside is None:
            return -1
        places, numbers = self.beside.by_place[kind]
        row = bisect_left(places, self._session.step) - 1 if back else bisect_right(places, self._session.step)
        return numbers[row] if 0 <= row < len(numbers) else -1

    def go(self, number: int) -> None:
        """Shows a difference."""
        if self.beside is not None:
            self._session.go(self.beside.place_of(number))
