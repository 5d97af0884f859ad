"""The top strip: what is open, the lesson's programs, the moves."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QAction, QResizeEvent
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QMenu, QSizePolicy, QToolButton, QVBoxLayout, QWidget

from eelgrass.desktop.commands.action_table import ACTIONS
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import ui_font
from eelgrass.desktop.look.plain_text import PlainLabel, as_rich, visible
from eelgrass.desktop.services.settings import Settings
from eelgrass.desktop.services.translation import tr
from eelgrass.lessons.cases.case import USUAL, Case
from eelgrass.lessons.demo_lesson import Lesson
from eelgrass.lessons.exercises.exercise import Exercise

#: In a narrower window, the usual way of working is not named, and of the place only the step.
_ROOMY_PX = 1150
_LONGEST_TITLE_PX = 170
#: A longer name of a case is cut, so that the moves stay in view.
_LONGEST_NAME = 18


class TopBar(QWidget):
    """Signals: `chosen(Exercise)` when a program of the lesson is picked, `picked(Path)` when one that was open
    lately, `case_chosen(Case)` when the program is to run with a case."""

    chosen = pyqtSignal(object)
    picked = pyqtSignal(object)
    case_chosen = pyqtSignal(object)

    def __init__(self, actions: dict[str, QAction], lesson: Lesson, settings: Settings, look: Look) -> None:
        super().__init__()
        self._settings = settings
        self._look = look
        self._is_presenting = False
        self._is_usual_way = True
        self._words = ""  # where the reader stands
        self.setObjectName("topStrip")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._open = [actions[name] for name in ("open", "open_folder")]
        self._keep = [actions[name] for name in ("keep_case", "case", "drop_case")]
        self._case = QToolButton(self)
        self._case.setToolTip(tr("What the program is started with, and what is typed into it"))
        self._case.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self._case.setMenu(QMenu(self._case))
        self._way = QToolButton(self)
        self._way.setToolTip(tr("Ways of working: explore, say it first, walk the route, present"))
        self._way.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        ways = QMenu(self._way)
        ways.addActions([actions[name] for name in ("predict", "route", "present", "make")])
        self._way.setMenu(ways)
        self._title = PlainLabel()
        self._python = QToolButton()
        self._python.setObjectName("python")
        self._python.setCursor(Qt.CursorShape.PointingHandCursor)
        self._python.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._python.clicked.connect(actions["python"].trigger)
        self._place = PlainLabel()
        self._place.setProperty("chip", "true")
        self._place.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        # Cut where room is scarce: the window does not grow.
        for widget, least in ((self._place, 90), (self._case, 60), (self._title, 90), (self._python, 90)):
            widget.setMinimumWidth(least)
        layout = QHBoxLayout(self)
        opened = QVBoxLayout()
        opened.setSpacing(0)
        opened.addWidget(self._title)
        opened.addWidget(self._python, 0, Qt.AlignmentFlag.AlignLeft)
        layout.addLayout(opened)
        self._lesson = self._lesson_button(lesson)
        for widget in (self._lesson, self._case, self._way, self._place):
            layout.addWidget(widget)
        layout.addStretch(1)
        self._runs = {_button(actions[name]): actions[name] for name in ("run", "stop")}
        for button, action in self._runs.items():
            layout.addWidget(button)
            action.enabledChanged.connect(self._show_usable)
        layout.addWidget(self._menu_button(actions))
        layout.addSpacing(6)
        moves = QHBoxLayout()
        moves.setSpacing(5)
        layout.addLayout(moves)
        for name in ("first", "previous_line", "out", "into", "next_line", "last"):
            moves.addWidget(_button(actions[name]))
        look.dresses(self._dress)
        self._show_usable()

    def _dress(self) -> None:
        c = self._look.colours
        flat = f"#python {{ background: none; border: none; padding: 0; margin-left: -5px; color: {c.ink_faded}; }}"
        self.setStyleSheet(f"#topStrip {{ background: {c.beach}; border-bottom: 1px solid {c.sand_edge}; }} {flat}")
        self._python.setFont(ui_font(8))
        self._title.setFont(ui_font(12, bold=True))

    def set_presenting(self, on: bool) -> None:
        """Shows only what a class needs to see; and all again."""
        self._is_presenting = on
        for widget in (self._lesson, self._case, self._python):
            widget.setVisible(not on)
        self._show_usable()
        focused = QApplication.focusWidget()
        if focused is not None and self.isAncestorOf(focused):  # it came here when what had it was hidden
            focused.clearFocus()

    def _show_usable(self) -> None:
        """Running and stopping take turns: each has a button only while it can be done. What else there is room for."""
        for button, action in self._runs.items():
            button.setVisible(action.isEnabled() and not self._is_presenting)
        is_roomy = self.width() >= _ROOMY_PX
        layout, beside = self.layout(), 14 if is_roomy else 8
        assert layout is not None
        layout.setContentsMargins(beside, 4, beside, 4)
        layout.setSpacing(8 if is_roomy else 5)
        self._way.setVisible(not self._is_presenting and (is_roomy or not self._is_usual_way))
        self._place.setText(self._words if is_roomy else self._words.partition(" · ")[0])

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._show_usable()

    def _lesson_button(self, lesson: Lesson) -> QToolButton:
        button = QToolButton()
        button.setText(tr("Open ▾"))
        button.setToolTip(tr("A program, a recording, what was open lately, or the lesson"))
        button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(button)
        menu.aboutToShow.connect(lambda: self._fill(menu, lesson))
        self._fill(menu, lesson)
        button.setMenu(menu)
        return button

    def _fill(self, menu: QMenu, lesson: Lesson) -> None:
        menu.clear()
        menu.addActions(self._open)
        menu.addSection(tr("Lately"))
        for path in self._settings.recent_files:
            action = menu.addAction(visible(f"{path.name}  ({path.parent})"))
            assert action is not None
            action.triggered.connect(lambda _checked, path=path: self.picked.emit(path))
        menu.addSection(lesson.title)
        for exercise in lesson.exercises:
            self._add_exercise(menu, exercise)

    def _menu_button(self, actions: dict[str, QAction]) -> QToolButton:
        """Every action, by its group, with its keys."""
        button = QToolButton()
        button.setText(tr("Actions ▾"))
        button.setToolTip(tr("Everything that can be done, with its keys"))
        button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(button)
        for group in dict.fromkeys(action.group for action in ACTIONS):
            inner = menu.addMenu(tr(group))
            assert inner is not None
            inner.setToolTipsVisible(True)
            inner.addActions([actions[action.id] for action in ACTIONS if action.group == group])
        button.setMenu(menu)
        return button

    def _add_exercise(self, menu: QMenu, exercise: Exercise) -> None:
        action = menu.addAction(visible(f"{exercise.title}  ({exercise.program.name})"))
        assert action is not None
        action.triggered.connect(lambda: self.chosen.emit(exercise))

    def show_cases(self, cases: list[Case], chosen: Case) -> None:
        """Offers the cases of the program."""
        menu = self._case.menu()
        assert menu is not None
        menu.clear()
        for case in [USUAL, *cases]:
            typed = tr(", {0} lines typed").format(len(case.input)) if case.input else ""
            typed += tr(", no more input") if case.ends_input else ""
            how = case.call or f"{' '.join(case.arguments) or 'no arguments'}{typed}"
            action = menu.addAction(visible(f"{case.name}  ({how})"))
            assert action is not None
            action.setCheckable(True)
            action.setChecked(case == chosen)
            action.triggered.connect(lambda _checked, case=case: self.case_chosen.emit(case))
        menu.addSeparator()
        menu.addActions(self._keep)
        name = chosen.name if len(chosen.name) <= _LONGEST_NAME else f"{chosen.name[: _LONGEST_NAME - 1]}…"
        self._case.setText(tr("case: {0} ▾").format(name))

    def show_title(self, title: str, task: str) -> None:
        """Says what is open; its task, if it has one, on pointing."""
        self._title.setText(title)
        self._title.setMinimumWidth(min(self._title.sizeHint().width(), _LONGEST_TITLE_PX))
        self._title.setToolTip(as_rich(task))

    def show_python(self, words: str, where: str) -> None:
        """Says which Python runs the program."""
        self._python.setText(words)
        self._python.setToolTip(as_rich(where))
        self._python.setVisible(bool(words) and not self._is_presenting)

    def show_way(self, words: str, is_usual: bool) -> None:
        """Says in which way the person works."""
        self._way.setText(tr("{0} ▾").format(words))
        self._is_usual_way = is_usual
        self._show_usable()

    def show_place(self, words: str) -> None:
        """Says where the reader stands."""
        self._words = words
        self._place.setToolTip(as_rich(words))
        self._place.setVisible(bool(words))
        self._show_usable()


def _button(action: QAction) -> QToolButton:
    button = QToolButton()
    button.setDefaultAction(action)
    button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
    if not action.icon().isNull():
        button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonIconOnly)
        button.setIconSize(QSize(20, 20))
        button.setProperty("sign", "true")
    return button
