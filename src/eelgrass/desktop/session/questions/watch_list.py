"""The expressions that are kept in view, with their answers over the whole run."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.background import Lane
from eelgrass.desktop.session.session import Session
from eelgrass.reading.expressions.expression import Expression, parse_expression
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording
from eelgrass.reading.watches.series import Series, series
from eelgrass.reading.watches.watch import WatchHistory, over

#: In so many parts the course of an answer is drawn beside its question.
_STRETCHES = 120

_Answered = tuple[Recording, Expression, WatchHistory, Series]


class WatchList(QObject):
    """`histories` and `series`, by an expression's text, are its answers over the run as far as they are known;
    `asked`, what was ever asked; `followed`, the one whose changes stand on the tide line.

    Signals: `changed` when other expressions are kept in view, or another one is followed; `answered` when one has been
    asked, or answered, over the run, or one may see further.
    """

    changed = pyqtSignal()
    answered = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.expressions: list[Expression] = []
        self.asked: list[str] = []
        self.histories: dict[str, WatchHistory] = {}
        self.series: dict[str, Series] = {}
        self.followed = ""
        self._failed: set[str] = set()
        self._on_its_way = ""
        self.lane = Lane("watches")
        self.lane.done.connect(self._take)
        self.lane.failed.connect(self._take_failure)
        session.opened.connect(self._begin_anew)
        session.revealed.connect(self.answered)

    def _begin_anew(self) -> None:
        self.histories, self.series, self._failed = {}, {}, set()
        self._ask_next()

    def ask(self, asked: Expression) -> None:
        """Keeps an expression in view, before the others."""
        self.asked = [*(text for text in self.asked if text != asked.text), asked.text]
        self.set_expressions([asked, *(other for other in self.expressions if other.text != asked.text)])

    def forget(self, asked: Expression) -> None:
        """Takes an expression out of view."""
        self.set_expressions([other for other in self.expressions if other.text != asked.text])

    def set_expressions(self, expressions: list[Expression]) -> None:
        """Sets all that are kept in view anew; they are answered over the run one after the other."""
        self.expressions = expressions
        self._ask_next()
        self.changed.emit()

    def follow(self, text: str) -> None:
        """Shows on the tide line where an answer changes; the same one again, no longer."""
        self.followed = "" if text == self.followed else text
        if self.followed:
            self.ask(parse_expression(text))
        self.changed.emit()

    @property
    def followed_history(self) -> WatchHistory | None:
        """The answers of the followed expression, as far as they are known."""
        return self.histories.get(self.followed)

    def give_up(self) -> None:
        """Nobody waits any longer for what is being asked of the whole run."""
        self.lane.give_up()
        self.answered.emit()

    def _ask_next(self) -> None:
        recording = self._session.recording
        known = {*self.histories} | self._failed
        asked = next((its for its in self.expressions if its.text not in known), None)
        if recording is not None and asked is not None:
            self._on_its_way = asked.text
            self.lane.start(lambda progress: _answered(recording, asked, progress))
        else:
            self.lane.give_up()
        self.answered.emit()

    def _take(self, found: _Answered) -> None:
        recording, asked, history, course = found
        if recording is self._session.recording:
            self.histories[asked.text], self.series[asked.text] = history, course
            self._ask_next()

    def _take_failure(self, _error: Exception) -> None:
        self._failed.add(self._on_its_way)
        self._ask_next()


def _answered(recording: Recording, asked: Expression, progress: Progress) -> _Answered:
    """An expression over the run, and its course; not on the window's thread."""
    found = over(recording, asked, progress)
    return recording, asked, found, series(recording.trace, found, _STRETCHES)
