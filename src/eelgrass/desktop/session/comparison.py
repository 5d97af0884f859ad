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
from eelgrass.reading.comparing.alignment import Alignment, Apart, Kind
from eelgrass.reading.comparing.runs import compare
from eelgrass.reading.comparing.sentences import apart_words, sentence
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording

#: Makes or loads the other run, on another thread. Raises EelgrassError and OSError.
Finding = Callable[[Progress], Recording]


@dataclass(frozen=True)
class Beside:
    """Two runs that are held against each other, the one on view first: the other's name, what differs first, in a
    sentence, and everything that differs."""

    alignment: Alignment
    name: str
    said: str
    differences: list[Apart]

    @property
    def other(self) -> Recording:
        """The run that is not on view."""
        return self.alignment.b

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


class RunComparison(QObject):
    """Signals: `compared` when another comparison (or none) is on view; `said(sentence)` when there is none, or when
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
        #: What the run on view is called, where it is beside another one.
        self.own_name = ""
        self._stays = False
        session.opened.connect(self._forget)
        session.revealed.connect(self._hide)

    @property
    def step(self) -> int:
        """Where the other run stands; -1 when there is none."""
        return self.beside.alignment.counterpart(self._session.step) if self.beside is not None else -1

    def compare_with(self, find: Finding, name: str, own_name: str = "") -> None:
        """Holds the run on view against another one, on another thread."""
        recording = self._session.recording
        if recording is None:
            return
        if not self._session.visible.is_whole:
            self.said.emit(tr("That would give away what comes next."))
            return
        self.beside, self.own_name = None, own_name or tr("this run")
        self.lane.start(partial(self._compared, recording, find, name))
        self.compared.emit()

    def _compared(self, recording: Recording, find: Finding, name: str, progress: Progress) -> Beside:
        other = find(progress)
        other.prepare()
        said = sentence(recording, other, compare(recording, other))
        self._first_known.emit(progress, said)
        alignment = Alignment(recording, other)
        return _known(alignment, name, said)

    def _say_first(self, progress: Progress, said: str) -> None:
        if self.lane.is_busy and not progress.given_up.is_set():
            self.said.emit(said)

    def _take(self, found: Beside) -> None:
        self.beside = found
        self.compared.emit()

    def _hide(self) -> None:
        """Another run would give away what is to be said first."""
        if self.beside is not None and not self._session.visible.is_whole:
            self.end()

    def _forget(self) -> None:
        if not self._stays:
            self.end()

    def end(self) -> None:
        """Shows one run alone."""
        self.lane.give_up()
        if self.beside is not None or not self._stays:
            self.beside = None
            self.compared.emit()

    def swap(self) -> None:
        """Puts the other run on view, at the same place, and this one beside it."""
        its = self.beside
        if its is None:
            return
        step = self.step
        names = self.own_name, its.name
        self._stays = True
        self._session.show(its.other, step)
        self._stays = False
        self.own_name = names[1]
        self.beside = _known(its.alignment.turned(), names[0], its.said)
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


def _known(alignment: Alignment, name: str, said: str) -> Beside:
    """With all that will be asked of it, which takes a while."""
    assert alignment.gaps is not None
    assert alignment.frames is not None
    return Beside(alignment, name, said, alignment.differences)
