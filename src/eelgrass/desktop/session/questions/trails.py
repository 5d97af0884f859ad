"""The trail on view: what was asked, the links found so far, and the one stood at."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.background import Lane
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.session.wording import gives_away
from eelgrass.reading.trails import kept_out as keeping
from eelgrass.reading.trails import trail as asking
from eelgrass.reading.trails.moments import ENDS, Kind
from eelgrass.reading.trails.origins import Origins
from eelgrass.reading.trails.sentences import Sentences
from eelgrass.reading.trails.trail import Trail
from eelgrass.reading.trails.turnings import Turning


@dataclass(frozen=True)
class Link:
    """A link as it is shown: its number, kind, step, and sentence."""

    number: int
    kind: Kind
    step: int
    text: str

    @property
    def is_end(self) -> bool:
        """Whether nothing recorded lies behind it."""
        return self.kind in ENDS


@dataclass(frozen=True)
class _Found:
    """What a job brings: a trail with its question and first links, or a link that was opened with those behind it."""

    title: str
    trail: Trail
    opened: int
    links: list[Link]


class Trails(QObject):
    """One question at a time; links are worked out when they are opened, on another thread.

    Signals: `asked` when another trail comes on view (or none does); `opened(number)` when it is known what a link came
    from; `stood` when another link is stood at; `said(sentence)` when there is no trail.
    """

    asked = pyqtSignal()
    opened = pyqtSignal(int)
    stood = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.lane = Lane("trail")
        self.lane.done.connect(self._take)
        self.lane.failed.connect(self._fail)
        self._origins: Origins | None = None
        self._trail: Trail | None = None
        self._working = threading.Lock()
        self._goes_on = False
        #: Why nothing may be asked now, in a sentence; '' where it may.
        self.forbidden: Callable[[], str] = lambda: ""
        session.opened.connect(self._forget)
        self._clear()

    def _clear(self) -> None:
        self.title, self.asked_at = "", 0
        self.beginning: list[Link] = []
        self.behind: dict[int, list[Link]] = {}
        self.way: list[Link] = []
        self.seen: set[int] = set()

    @property
    def place(self) -> Link | None:
        """The link that is stood at."""
        return self.way[-1] if self.way else None

    @property
    def walked(self) -> list[Link]:
        """The links that were stood at, each once, in that order; before that, those that the trail begins with."""
        return list({link.number: link for link in self.way}.values()) or self.beginning

    @property
    def steps(self) -> list[int]:
        """The steps of all links that are known, in order."""
        known = [*self.beginning, *(its for links in self.behind.values() for its in links)]
        return sorted({its.step for its in known})

    # Questions

    def ask_expression(self, text: str, step: int | None = None, frame: int | None = None) -> None:
        """Where the value of an expression at a step came from (as it is shown, unless another step is named)."""
        at = self._session.step if step is None else step
        self._ask(
            tr("Where from? {0}, before step {1}").format(text, at),
            lambda origins: asking.trail_of_expression(origins, text, at, frame),
        )

    def ask_output(self, step: int, text: str) -> None:
        """Where what was printed during a step came from."""
        title = tr("Where from? printed at step {0}").format(step)
        self._ask(title, lambda origins: asking.trail_of_printed(origins, step, text))

    def ask_exception(self, step: int) -> None:
        """Where the exception that passes at a step came from."""
        self._ask(tr("Where from? the exception"), lambda origins: asking.trail_of_exception(origins, step))

    def ask_visit(self, visit: int) -> None:
        """Where what a visit of a line did came from."""
        recording = self._session.recording
        line = recording.trace.line_of(visit) if recording is not None else 0
        title = tr("Where from? what line {0} did at step {1}").format(line, visit)
        self._ask(title, lambda origins: asking.trail_of_visit(origins, visit))

    def leave_out(self, link: Link) -> None:
        """Leaves out the function that a link stands in, as well."""
        trail, title = self._trail, self.title
        if trail is None or self._session.recording is None:
            return
        frame = self._session.recording.stepping.frame_of(link.step)
        name = self._session.recording.trace.function_of_frame(frame).name
        told = f"{title}, {tr('not inside {0}').format(name)}"

        def work(_origins: Origins) -> _Found:
            narrowed = trail.narrowed(name)
            return _Found(told, narrowed, -1, _links(narrowed, narrowed.beginning))

        self._start(work)

    def ask_end(self) -> None:
        """Why a run that was stopped had not ended."""
        self._ask(tr("Why did it not end?"), asking.trail_of_end)

    def ask_kept_out(self, module: int, line: int) -> None:
        """What kept a line out; while somebody says first, only up to the step on view."""
        if not self._session.visible.is_whole:
            self.said.emit(gives_away())
            return
        step = self._session.step
        self._start(lambda origins: _kept_out(origins, module, line, step))

    def _ask(self, title: str, question: Callable[[Origins], Trail]) -> None:
        def work(origins: Origins) -> _Found:
            trail = question(origins)
            return _Found(title, trail, -1, _links(trail, trail.beginning))

        self._start(work)

    def _start(self, work: Callable[[Origins], _Found]) -> None:
        recording, forbidden = self._session.recording, self.forbidden()
        if recording is None or forbidden:
            self.said.emit(forbidden)
            return
        if self._origins is None or self._origins.recording is not recording:
            self._origins = Origins(recording)
        origins, working = self._origins, self._working

        def alone(_progress: object) -> _Found:
            with working:  # one given up may still be at work
                return work(origins)

        self.lane.start(alone)

    def open(self, number: int) -> None:
        """Works out what a link came from."""
        trail, title = self._trail, self.title
        if trail is None or number in self.behind:
            return
        self._start(lambda _origins: _Found(title, trail, number, _links(trail, trail.opened(number))))

    # Walking

    def stand_at(self, link: Link) -> None:
        """Shows the moment of a link."""
        if self.place != link:
            self.way.append(link)
        self.seen.add(link.number)
        self._session.go(link.step)
        self.stood.emit()

    def walk(self) -> None:
        """Goes on to the first link behind the one stood at that was not looked at yet; an end only when all others
        were."""
        place = self.place
        if place is None:
            if self.beginning:
                self.stand_at(self.beginning[0])
            return
        if place.number not in self.behind:
            self._goes_on = True
            self.open(place.number)
            return
        fresh = [its for its in self.behind[place.number] if its.number not in self.seen]
        fresh.sort(key=lambda its: its.is_end)  # what goes on comes before what ends
        if fresh:
            self.stand_at(fresh[0])
        else:
            self.said.emit(tr("Nothing new lies behind this link: go back, and take another."))

    def walk_back(self) -> None:
        """Goes back to the link before."""
        if len(self.way) > 1:
            self.way.pop()
            self._session.go(self.way[-1].step)
            self.stood.emit()

    # What comes back

    def _take(self, found: _Found) -> None:
        if found.opened >= 0:
            self.behind[found.opened] = found.links
            self.opened.emit(found.opened)
            if self._goes_on:
                self._goes_on = False
                self.walk()
            return
        self._clear()
        self.title, self._trail, self.beginning = found.title, found.trail, found.links
        self.asked_at = self._session.step
        self.asked.emit()
        if len(found.links) == 1:
            self.open(found.links[0].number)

    def _fail(self, error: object) -> None:
        self._goes_on = False
        self.said.emit(str(error))

    def _forget(self) -> None:
        self.lane.give_up()
        self._origins = self._trail = None
        self._clear()
        self.asked.emit()


def _links(trail: Trail, numbers: list[int]) -> list[Link]:
    sentences = Sentences(trail.recording)
    its = trail.links
    return [Link(number, its[number].kind, its[number].step, sentences.of(its[number])) for number in numbers]


def _kept_out(origins: Origins, module: int, line: int, step: int) -> _Found:
    answer = keeping.kept_out_here(origins, module, line, step)
    beginning = origins.of_turning(Turning(answer.step, answer.reason)) if answer.step >= 0 else []
    trail = Trail(origins, beginning)
    return _Found(answer.text, trail, -1, _links(trail, trail.beginning))
