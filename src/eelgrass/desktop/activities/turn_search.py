"""The order in which the threads of the open program take turns: another one, and one in which something goes wrong."""

from __future__ import annotations

from dataclasses import replace

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.background import Lane
from eelgrass.desktop.services.messages import Choice, Message, Messages, told
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.workspace.running.launch import Launch, by_python, checked
from eelgrass.errors import EelgrassError
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.judging.wrong_orders import Searched, search
from eelgrass.reading.progress import Progress
from eelgrass.reading.state.thread_steps import takes_turns
from eelgrass.runs.order import OWN_TURNS, Turns

#: So long an order is searched for.
SECONDS = 20.0


class TurnSearch(QObject):
    """`tried` orders so far, while one is searched. Signal: `changed`."""

    changed = pyqtSignal()

    def __init__(self, session: Session, launch: Launch, messages: Messages) -> None:
        super().__init__()
        self._session, self._launch, self.messages = session, launch, messages
        self.tried = 0
        self.lane = Lane("orders of turns")
        self.lane.done.connect(self._take)
        self.lane.failed.connect(self._take_failure)
        self.lane.progressed.connect(self._say)
        session.opened.connect(self.changed)

    @property
    def turns(self) -> Turns | None:
        """The order of the recording on view; None where its threads take none."""
        recording = self._session.recording
        if recording is None or not takes_turns(recording.trace):
            return None
        return self._launch.case.turns

    @property
    def is_usual(self) -> bool:
        """Whether it is the usual order."""
        return self._launch.case.turns == OWN_TURNS

    @property
    def words(self) -> str:
        """Which order it is, or why there is none."""
        recording = self._session.recording
        taken = recording.trace.case.get("turns_taken") if recording is not None else None
        if not isinstance(taken, dict):
            return tr("These threads went on as the system let them: the next run may be another.")
        if "kept_by" in taken:
            return tr("Beside “{0}”, threads cannot be made to take turns: the next run may be another.").format(
                taken["kept_by"]
            )
        its = self.turns or OWN_TURNS
        outside = tr(" Some of it hung on the world outside.") if taken.get("outside") else ""
        if its.switches:
            but = tr("one change") if len(its.switches) == 1 else tr("{0} changes").format(len(its.switches))
            return tr("Turns as usual, but for {0}. The same again in each run.").format(but) + outside
        which = tr("order {0}").format(its.number) if its.number else tr("the usual order")
        return tr("Turns in {0}. The same again in each run.").format(which) + outside

    def another(self) -> None:
        """Runs the program again with its threads in another order."""
        number = (self.turns or OWN_TURNS).number + 1
        self._choose(Turns(number), tr("order {0}").format(number))

    def usual(self) -> None:
        """Runs the program again with its threads in the usual order."""
        self._choose(OWN_TURNS, self._launch.case.name)

    def _choose(self, turns: Turns, name: str) -> None:
        self.messages.over(self)
        self._launch.choose_case(_with_turns(self._launch.case, turns, name))

    @told
    def find_wrong(self) -> None:
        """Searches an order in which something goes wrong, apart from what is on view."""
        if self.lane.is_busy:
            return
        launch = self._launch
        try:
            order = launch.order_of(launch.case)
        except (SyntaxError, OSError) as error:
            raise EelgrassError(tr("The program cannot be run as it is: {0}.").format(error)) from error
        case = launch.run_as_case(launch.case.name)
        program = order.program
        assert program is not None
        self.tried = 0

        def work(progress: Progress) -> Searched:
            by = by_python(replace(order, clock=None), checked(program.parent, order))
            return search(by, case, SECONDS, lambda tried: progress.goes_on(min(tried / 1000, 1.0)))

        self.lane.start(work)
        self._say(0.0)

    def stop(self) -> None:
        """Enough: what was tried is told."""
        self.lane.give_up()
        self.messages.over(self)
        self.changed.emit()

    def _say(self, share: float) -> None:
        self.tried = round(share * 1000)
        words = tr("Searching an order in which it goes wrong: {0} tried.").format(self.tried)
        self.messages.stand(self, Message(words, choices=(Choice(tr("Enough"), self.stop),)))
        self.changed.emit()

    def _take(self, found: Searched) -> None:
        self.messages.over(self)
        if found.kept_by:
            words = tr("Beside “{0}”, threads cannot be made to take turns.").format(found.kept_by)
            self.messages.say(words)
        elif found.is_alone:
            self.messages.say(tr("This program has one thread only."))
        elif found.turns is None:
            self.messages.say(tr("In none of {0} orders did anything go wrong.").format(found.tried))
        else:
            self._launch.keep_made(_with_turns(self._launch.case, found.turns, tr("goes wrong")))
            words = tr("Tried {0} orders; in this one, kept as the case “goes wrong”: {1}").format(
                found.tried, found.why
            )
            self.messages.stand(self, Message(words, True, (Choice(tr("Close"), lambda: self.messages.over(self)),)))
        self.changed.emit()

    def _take_failure(self, error: Exception) -> None:
        self.messages.over(self)
        if isinstance(error, EelgrassError):
            self.messages.fail(error)
        self.changed.emit()


def _with_turns(case: Case, turns: Turns, name: str) -> Case:
    return msgspec.structs.replace(case, turns=turns, name=name)
