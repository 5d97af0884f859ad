"""The threads of a run at the shown step: what each does, waits for and holds; where they were in each other's way."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from eelgrass.desktop.activities.turn_search import TurnSearch
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import ui_font
from eelgrass.desktop.look.plain_text import visible
from eelgrass.desktop.look.widgets import PlainList, SoftLabel
from eelgrass.desktop.services.background import Lane
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.reading.recording import Recording
from eelgrass.reading.threads.races import Race, races
from eelgrass.reading.threads.tasks import TaskReader, TaskState
from eelgrass.reading.threads.waiting import ThreadReader, Threads


def words(threads: Threads, place: int) -> str:
    """One thread, told in a line."""
    its = threads.states[place]
    does = {
        "not started": tr("has not started"),
        "ended": tr("has ended"),
        "running": tr("is at line {0}").format(its.line),
        "waiting": threads.wait(place),
    }[its.state]
    held = ", ".join(tr("{0} since line {1}").format(one.lock.name, one.line) for one in its.holds)
    return f"{its.its.name}: {does}" + (tr(" · has {0}").format(held) if held else "")


def task_words(its: TaskState) -> str:
    """One task, told in a line."""
    does = {
        "ended": tr("has ended"),
        "running": tr("is at line {0}").format(its.line),
        "waiting": tr("waits at line {0}").format(its.line) + (tr(" for {0}").format(its.awaits) if its.awaits else ""),
    }[its.state]
    woken = tr(" · let on by {0}").format(its.woken) if its.woken else ""
    return tr("task {0}: {1}").format(its.name, does) + woken


def circle_words(names: list[str]) -> str:
    """That tasks wait for one another."""
    told = ", ".join(f"“{name}”" for name in names)
    if len(names) == 1:
        return tr("{0} waits for itself: it can never go on.").format(told)
    return tr("{0} wait for one another in a circle: none of them can ever go on.").format(told)


class ThreadsView(QWidget):
    """The thread that the shown step is of stands out, as do those of a deadlock. A click leads to where one stands.
    Below are races, found on a thread of their own, each with three moments to go to, one after the other."""

    def __init__(self, session: Session, turns: TurnSearch, look: Look) -> None:
        super().__init__()
        self._session, self._turns, self._look = session, turns, look
        self._reader: ThreadReader | None = None
        self._tasks: TaskReader | None = None
        self._races: list[Race] = []
        self._finding = Lane("races")
        self._finding.done.connect(self._take_races)
        self.list = PlainList(tr("Threads"), look)
        self.order = SoftLabel(look)
        self.order.setWordWrap(True)
        self.another = self._button(tr("Another order"), turns.another)
        self.usual = self._button(tr("The usual order"), turns.usual)
        self.wrong = self._button(tr("Find a wrong order"), turns.find_wrong)
        row, column = QHBoxLayout(), QVBoxLayout(self)
        row.addWidget(self.order, 1)
        for button in (self.usual, self.another, self.wrong):
            row.addWidget(button)
        row.setContentsMargins(10, 4, 10, 6)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.list, 1)
        column.addLayout(row)
        self.list.itemClicked.connect(self._go)
        self.list.itemActivated.connect(self._go)
        session.opened.connect(self._take)
        session.moved.connect(self.refresh)
        turns.changed.connect(self.refresh)
        look.changed.connect(self.refresh)

    def _button(self, title: str, call: Callable[[], None]) -> QPushButton:
        button = QPushButton(title)
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        button.clicked.connect(lambda: call())
        return button

    def _take(self) -> None:
        self._reader, self._tasks, self._races = None, None, []
        recording = self._session.recording
        if recording is not None and recording.trace.frames.thread.any() and self._session.visible.is_whole:
            self._finding.start(lambda _progress: races(recording))
        else:
            self._finding.give_up()
        self.refresh()

    def _take_races(self, found: list[Race]) -> None:
        self._races = found
        self.refresh()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.refresh()

    def refresh(self) -> None:
        """Shows the threads just before the shown step."""
        recording = self._session.recording
        if recording is None or not self.isVisible():
            self.list.clear()
            return
        row = self.list.currentRow()
        self.list.clear()
        self._list_threads(recording)
        self._list_tasks(recording)
        for race in self._races if self._session.visible.is_whole else ():
            kind = {"lost update": tr("A lost update"), "stale decision": tr("A decision that was out of date")}
            self._warn(f"{kind[race.kind]}: {race.text}", [race.read, race.between, race.wrote])
        self.list.setCurrentRow(min(row, self.list.count() - 1))
        self.order.setText(self._turns.words)
        can_steer = self._turns.turns is not None
        for button in (self.another, self.wrong):
            button.setVisible(can_steer)
        self.usual.setVisible(can_steer and not self._turns.is_usual)

    def _list_threads(self, recording: Recording) -> None:
        if self._reader is None:
            self._reader = ThreadReader(recording)
        told = self._reader.at(self._session.step)
        here = int(recording.trace.frames.thread[recording.stepping.frame_of(self._session.step)])
        for place, its in enumerate(told.states):
            add = self._warn if place in told.deadlock else self._add
            item = add(words(told, place), [its.last])
            if its.its.thread == here:
                item.setFont(ui_font(10, bold=True))

    def _list_tasks(self, recording: Recording) -> None:
        if self._tasks is None:
            self._tasks = TaskReader(recording)
        tasks = self._tasks.at(self._session.step) if self._tasks.has_tasks else []
        circle = self._tasks.circle(tasks)
        for place, task in enumerate(tasks):
            (self._warn if place in circle else self._add)(task_words(task), [task.step])
        if circle:
            self._warn(circle_words([tasks[place].name for place in circle]), [tasks[circle[0]].step])
        for name in self._tasks.never_awaited if self._session.visible.is_whole else ():
            self._add(tr("“{0}” was called and never awaited: nothing of it ran.").format(name), [-1])

    def _warn(self, text: str, steps: list[int]) -> QListWidgetItem:
        item = self._add(text, steps)
        item.setForeground(QColor(self._look.colours.coral))
        return item

    def _add(self, text: str, steps: list[int]) -> QListWidgetItem:
        item = QListWidgetItem(visible(text))
        item.setData(Qt.ItemDataRole.UserRole, steps)
        self.list.addItem(item)
        return item

    def _go(self, item: QListWidgetItem) -> None:
        """To the first of a line's moments; from one of them to the next."""
        steps = item.data(Qt.ItemDataRole.UserRole)
        place = steps.index(self._session.step) + 1 if self._session.step in steps else 0
        step = steps[place % len(steps)]
        if step >= 0:
            self._session.go(step)
