"""Which actions can do something now, and why the others cannot."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QAction, QKeyEvent, QKeySequence

from eelgrass.desktop.commands.action_table import ACTIONS
from eelgrass.desktop.commands.shortcuts import Shortcuts
from eelgrass.desktop.models import Models
from eelgrass.desktop.services.translation import tr


@dataclass(frozen=True)
class Need:
    """What some actions cannot do without: whether it is there, what is said where it is not, and their ids."""

    is_there: Callable[[Models], bool]
    why_not: str
    ids: tuple[str, ...]


def _ids(words: str) -> tuple[str, ...]:
    return tuple(words.split())


_MOVES = tuple(action.id for action in ACTIONS if action.is_move)

_RUNNING = _ids("run run_new run_draw another_order wrong_order case call keep_case library python leave")

#: The first one that is missing is told.
NEEDS: tuple[Need, ...] = (
    Need(
        lambda m: m.parts.session.recording is not None,
        "There is no recording on view: open a program, or wait until it has run.",
        (
            *_MOVES,
            *_ids(
                "go_to go_to_pass bookmark breakpoint new_mark note claim ask where_from kept_out table pictures play"
            ),
            *_ids("why_no_end what_if passes focus zoom_in zoom_out whole save compare predict"),
            *_ids("page sheet handout"),
        ),
    ),
    Need(
        lambda m: m.workspace.program is not None,
        "No program is open; a recording from a file cannot be run. “Open…” opens its program.",
        (*_RUNNING, *_ids("edit save_text make cases")),
    ),
    Need(
        lambda m: not m.run.is_running,
        "The program is running; stop it first.",
        (*_RUNNING, "save"),
    ),
    Need(lambda m: m.run.is_running, "No program is running.", ("stop",)),
    Need(
        lambda m: m.turns.turns is not None,
        "No threads take turns in the recording on view.",
        ("another_order", "wrong_order"),
    ),
    Need(
        lambda m: m.launch.is_whole,
        "A part of the program, or another’s text, is on view: choose a case to come back to the whole.",
        ("edit",),
    ),
    Need(
        lambda m: m.workspace.exercise is not None,
        "No exercise is open.",
        _ids("exercise answer given unit_tests class_set names"),
    ),
    Need(
        lambda m: m.hand_in.shown is not None,
        "No hand-in of a class set is on view.",
        _ids("next_of_group of_group_before leave_hand_in"),
    ),
    Need(lambda m: bool(m.route.stops), "There is no route here: it is planned where an exercise is made.", ("route",)),
    Need(
        lambda m: m.workspace.exercise is not None or bool(m.launch.cases),
        "No case is kept yet. “Keep as a case…” keeps what the program was started with.",
        ("cases",),
    ),
    Need(lambda m: m.launch.case in m.launch.cases, "The chosen case is none that you have kept.", ("drop_case",)),
    Need(
        lambda m: m.comparison.beside is not None,
        "No other run stands beside this one. “Compare with…” puts one there.",
        _ids("difference difference_before parting other_value other_output swap"),
    ),
    Need(
        lambda m: bool(m.route.is_on or m.parts.breakpoints.bookmarks or m.parts.breakpoints.breakpoints),
        "There is no breakpoint, bookmark or stop yet.",
        _ids("next_mark previous_mark"),
    ),
    Need(lambda m: bool(m.parts.breakpoints.breakpoints), "There is no breakpoint yet.", ("marks_off",)),
    Need(
        lambda m: bool(m.trails.title), "No trail is on view. “Where from?” asks for one.", _ids("trail_on trail_back")
    ),
    Need(
        lambda m: bool(m.parts.session.visible.exceptions),
        "No exception has passed in this run.",
        _ids("previous_exception next_exception"),
    ),
)


def why_not(models: Models, action: str) -> str:
    """Why an action cannot do anything now; '' where it can."""
    missing = (tr(need.why_not) for need in NEEDS if action in need.ids and not need.is_there(models))
    return next(missing, "")


class Availability(QObject):
    """Switches actions off and on; on pointing, those that are off say why."""

    def __init__(self, models: Models, actions: dict[str, QAction], shortcuts: Shortcuts) -> None:
        super().__init__()
        self._models = models
        self._actions = actions
        self._shortcuts = shortcuts
        m = models
        for changed in (m.run.changed, m.workspace.changed, m.launch.changed, m.parts.session.opened, m.route.changed):
            changed.connect(self.refresh)
        for changed in (m.parts.breakpoints.changed, m.comparison.compared, m.trails.asked, m.parts.session.revealed):
            changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Looks at all of them again."""
        for name, action in self._actions.items():
            why, tip = why_not(self._models, name), self._shortcuts.tip(name)
            action.setEnabled(not why)
            action.setToolTip(f"{tip}\n{why}" if why else tip)

    def say_why(self, event: QKeyEvent) -> bool:
        """Says why a key does nothing now; False where it is the key of no action that is off."""
        pressed = QKeySequence(event.keyCombination())
        for name, action in self._actions.items():
            if not action.isEnabled() and pressed in action.shortcuts():
                self._models.messages.say(why_not(self._models, name))
                return True
        return False
