"""What-ifs: runs in which something got another value on the way, kept as a tree below the run that was made first."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.background import Lane
from eelgrass.desktop.services.messages import Choice, Message, Messages, told
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.comparison import RunComparison
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.session.wording import gives_away
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.output import prompt
from eelgrass.reading.watches.settable import Wish, wish
from eelgrass.runs.order import Leave
from eelgrass.runs.repeating import SideRunError
from eelgrass.runs.what_if import WhatIf, begun_what_if, what_is_missing
from eelgrass.trace.model import Trace


@dataclass(frozen=True)
class RunOfTree:
    """A run: the recording, the number of the one that it departs from (-1: none), at which step, and what it is
    called."""

    recording: Recording
    parent: int
    step: int
    name: str


class WhatIfs(QObject):
    """`runs` are those of the tree, the first one at its root; `current` is the number of the one on view. A recording
    that is opened, or made by a run of the program, begins another tree; one that has changed places with the run on
    view stands beside the first.

    Signals: `changed` when there is another run, or another one is on view; `asked(prompt)` when a run needs more input
    than there was.
    """

    changed = pyqtSignal()
    asked = pyqtSignal(str)
    _waits = pyqtSignal(object, str)

    def __init__(self, session: Session, comparison: RunComparison, messages: Messages) -> None:
        super().__init__()
        self._session = session
        self._comparison = comparison
        self.messages = messages
        self.runs: list[RunOfTree] = []
        self.current = -1
        self.leave: Callable[[], Leave] = Leave  # what the program may reach
        self._waiting: WhatIf | None = None
        self._goes_in = False
        self.lane = Lane("what-if")
        self.lane.done.connect(self._take)
        self.lane.failed.connect(self._fail)
        self._waits.connect(self._ask)
        session.opened.connect(self._begin)

    def _begin(self) -> None:
        if self._goes_in:
            return
        recording, beside = self._session.recording, self._comparison.beside
        if recording is not None and self._comparison.is_swapping and beside is not None:
            known = [number for number, its in enumerate(self.runs) if its.recording is recording]
            if not known:
                self.runs.append(RunOfTree(recording, -1, 0, beside.own_name))
            self.current = known[0] if known else len(self.runs) - 1
        else:
            self.give_up()
            root = [RunOfTree(recording, -1, 0, tr("the run itself"))] if recording is not None else []
            self.runs, self.current = root, len(root) - 1
        self._say_where()
        self.changed.emit()

    def _say_where(self) -> None:
        """The screen always says which run one is in."""
        if self.current > 0:
            back = Choice(tr("Back to the run itself"), lambda: self.go_in(0))
            said = tr("On view: {0}. The run itself is as it was.").format(self.name)
            self.messages.stand(self, Message(said, choices=(back,)))
        else:
            self.messages.over(self)

    @property
    def name(self) -> str:
        """What the run on view is called."""
        return self.runs[self.current].name if self.runs else ""

    @property
    def is_waiting(self) -> bool:
        """Whether a run waits for a line that was not typed before."""
        return self._waiting is not None

    @told
    def ask(self, text: str, frame: int) -> None:
        """Runs again from the beginning, with what `TARGET = EXPRESSION` says in a frame on the stack set at the shown
        step, and puts that run on view, beside the one that it departs from."""
        recording, step = self._session.recording, self._session.step
        if recording is None:
            return
        if not self._session.visible.is_whole:
            raise SideRunError(gives_away())
        wanted = wish(recording, step, frame, text)
        self.messages.say(tr("Running again, up to step {0:,}, and on from there …").format(step))
        self.lane.start(partial(self._made, recording, self.current, step, wanted))

    def _made(self, recording: Recording, parent: int, step: int, wanted: Wish, progress: Progress) -> RunOfTree:
        """On another thread."""
        run = begun_what_if(recording.trace, step, [wanted], lambda trace: self._tell(run, trace), self.leave())
        progress.when_given_up(run.stop)
        trace = run.wait()
        missing = what_is_missing(run, trace)
        if missing and len(trace.steps) <= step:
            raise SideRunError(missing)
        made = Recording(trace)
        made.prepare()
        return RunOfTree(made, parent, step, tr("what if {0} = {1}").format(wanted.target, wanted.expression))

    def _take(self, made: RunOfTree) -> None:
        self._waiting = None
        self.messages.say("")
        self.runs.append(made)
        self.go_in(len(self.runs) - 1)

    def _fail(self, error: Exception) -> None:
        self._waiting = None
        self.messages.say(str(error), is_trouble=True)
        self.changed.emit()

    def go_in(self, number: int) -> None:
        """Puts a run of the tree on view: a what-if at the step at which something was set, beside the run that it
        departs from."""
        its = self.runs[number]
        step = its.step if its.parent >= 0 else min(self._session.step, len(its.recording.trace.steps) - 1)
        self._goes_in = True
        self._session.show(its.recording, step)
        self._goes_in = False
        self.current = number
        if its.parent >= 0:
            parent = self.runs[its.parent]
            self._comparison.compare_with(lambda _progress: parent.recording, parent.name, its.name)
        self._say_where()
        self.changed.emit()

    def give_up(self) -> None:
        """Stops a what-if that is on its way."""
        self.lane.give_up()
        self._waiting = None

    # Input that was not typed before

    def _tell(self, run: WhatIf, trace: Trace) -> None:
        """On the run's thread: it waits for a line."""
        self._waits.emit(run, prompt(trace))

    def _ask(self, run: WhatIf, words: str) -> None:
        if self.lane.is_busy:
            self._waiting = run
            self.asked.emit(words)
            self.changed.emit()

    def answer(self, line: str) -> None:
        """Gives the waiting run a line."""
        run, self._waiting = self._waiting, None
        if run is not None:
            run.type_line(line)

    def end_input(self) -> None:
        """Tells the waiting run that there is no more input."""
        run, self._waiting = self._waiting, None
        if run is not None:
            run.end_input()
