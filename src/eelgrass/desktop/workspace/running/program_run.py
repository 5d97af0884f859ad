"""The run of the open program: starting it, feeding it, and putting what it records on view."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.messages import Choice, Messages
from eelgrass.desktop.session.breakpoint_set import BreakpointSet
from eelgrass.desktop.session.edited_texts import EditedTexts
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.session.wording import outcome
from eelgrass.desktop.workspace.running.runner import Runner
from eelgrass.desktop.workspace.session_store import SessionStore
from eelgrass.reading.alignment import same_place
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.output import prompt
from eelgrass.runs.order import Order, Typed


@dataclass(frozen=True)
class _Before:
    """What was on view when the run began."""

    recording: Recording
    step: int


class ProgramRun(QObject):
    """`is_waiting` for input, and `prompt` what it asks then; `has_asked` for any in this run; `latest` is what there
    is by now of the run on its way. `why_after` says why a run ended that could not reach
    something, `choices_after` what can be done about how one has ended.

    Signals: `changed` when the run begins, waits, comes further or ends; `asked(prompt)` when the program waits for a
    line of input; `on_view(Recording)` when what it has recorded so far is about to be shown;
    `ended(Recording)` when a run of the program's own text is over, `lent_ended(Recording)` when one of another's is.
    """

    changed = pyqtSignal()
    asked = pyqtSignal(str)
    on_view = pyqtSignal(object)
    ended = pyqtSignal(object)
    lent_ended = pyqtSignal(object)

    def __init__(
        self, session: Session, texts: EditedTexts, breakpoints: BreakpointSet, store: SessionStore, messages: Messages
    ) -> None:
        super().__init__()
        self._session = session
        self._texts = texts
        self._breakpoints = breakpoints
        self._store = store
        self._messages = messages
        self.runner = Runner()
        self.is_waiting = self.has_asked = False
        self.prompt = ""
        self.latest: Recording | None = None
        self.why_after: Callable[[Recording], str] = lambda _recording: ""
        self.choices_after: Callable[[Recording], tuple[Choice, ...]] = lambda _recording: ()
        self._before: _Before | None = None
        self._followed: int | None = None  # the step to which the person was taken along with the run
        self._is_on_view = False  # whether the session shows the run that is on its way
        self._is_lent = False  # whether it is of another text than the program's own
        self._whole_texts: Mapping[str, str] = {}
        self._remark = ""  # why the place on view is not quite the one of before
        self.runner.waiting.connect(self._on_waiting)
        self.runner.going.connect(self._on_going)
        self.runner.progressed.connect(self._on_progressed)
        self.runner.quiet.connect(self._on_quiet)
        self.runner.ended.connect(self._on_ended)
        self.runner.failed.connect(self._on_failed)

    @property
    def is_running(self) -> bool:
        """Whether the program is on its way."""
        return self.runner.is_running

    @property
    def typed(self) -> Typed:
        """What was typed into the program so far."""
        return self.runner.typed

    def start(self, order: Order, prepared: Typed, is_lent: bool, whole_texts: Mapping[str, str]) -> None:
        """Starts a run; what is `prepared` is typed for the person. `is_lent` says that it is of another text
        than the program's own, or of a part of it; `whole_texts`, by file, of which text that is a part, with the same
        lines. Raises CannotRunError and OSError."""
        self.is_waiting = self.has_asked = self._is_on_view = False
        self.latest = self._followed = None
        before = self._session.recording
        self._before = _Before(before, self._session.step) if before is not None else None
        self._is_lent, self._whole_texts, self._remark = is_lent, whole_texts, ""
        self.runner.start(order, prepared)
        self.changed.emit()

    def answer(self, line: str) -> None:
        """Gives the program a line of input: now if it waits for one, else when it asks."""
        self.runner.type_line(line)
        self.changed.emit()

    def end_input(self) -> None:
        """Tells the program that there is no more input."""
        self.runner.end_input()
        self.changed.emit()

    def stop(self) -> None:
        """Stops the program; what it has recorded stays."""
        self.runner.stop()

    def end_for(self, reason: str) -> None:
        """Ends the program for a reason that was found in its recording."""
        if self.runner.run is not None:
            self.runner.run.end_for(reason)

    def forget(self) -> None:
        """Stops the program without wanting to hear of it again."""
        self.runner.forget()
        self.is_waiting = False

    # What comes of it

    def _on_waiting(self, recording: Recording) -> None:
        self.is_waiting = self.has_asked = self._is_on_view = True
        self._followed, self.latest = None, recording
        self._messages.say("")
        self._show(recording, recording.stepping.last())
        self.prompt = prompt(recording.trace)
        self.changed.emit()
        self.asked.emit(self.prompt)

    def _on_going(self) -> None:
        self.is_waiting = False
        self.changed.emit()

    def _on_progressed(self, recording: Recording) -> None:
        """The run goes on; what has been recorded so far can be read already."""
        self.latest = recording
        self._show_again(recording)
        self.changed.emit()

    def _on_quiet(self, recording: Recording) -> None:
        """The run goes on, but not fast: who has not gone elsewhere is taken along."""
        self.latest = recording
        is_there = not self._is_on_view or self._session.step == self._followed
        if is_there and self._session.horizon is None and len(recording.stepping.stops):
            self._is_on_view = True
            self._show(recording, recording.stepping.last())
            self._followed = self._session.step
        else:
            self._show_again(recording)
        self.changed.emit()

    def _on_ended(self, recording: Recording) -> None:
        self.is_waiting, self.latest = False, None
        if self._followed is not None and self._session.step == self._followed:
            self._is_on_view = False  # who was taken along to the end begins where any other run begins
        self._show_again(recording)
        self.say_outcome(recording)
        (self.lent_ended if self._is_lent else self.ended).emit(recording)
        self.changed.emit()

    def _on_failed(self) -> None:
        self.is_waiting = False
        self.changed.emit()

    def _show_again(self, recording: Recording) -> None:
        """Who is reading already stays where they are, or at the same place of the run before."""
        step: int | None = None
        if self._is_on_view and self._session.recording is not None:
            step = self._session.step
        elif self._before is not None:
            before = self._before.recording
            found = same_place(before, self._before.step, recording)
            step, self._remark = (found.step if found.step >= 0 else None), found.why
            places = (same_place(before, mark, recording).step for mark in self._breakpoints.bookmarks)
            self._breakpoints.set_bookmarks([place for place in places if place >= 0])
        modules = recording.trace.program.modules
        texts = {module.file: self._whole_texts.get(module.file, module.source) for module in modules}
        self._remark += self._store.follow(texts)
        self._is_on_view = True
        self._show(recording, step)

    def _show(self, recording: Recording, step: int | None) -> None:
        self._texts.shows_lent = self._is_lent
        self.on_view.emit(recording)
        self._session.show(recording, step)

    def say_outcome(self, recording: Recording) -> None:
        """Says how a run ended, and why the place on view is not quite the one of before; but nothing of what is to be
        said first."""
        remark, self._remark = self._remark, ""
        if not self._session.visible.is_whole:
            self._messages.say("")
            return
        its = outcome(recording)
        told = " ".join(filter(None, (self.why_after(recording), its.text)))
        self._messages.say(told, its.is_trouble, self.choices_after(recording))
        if remark:
            self._messages.say(remark)
