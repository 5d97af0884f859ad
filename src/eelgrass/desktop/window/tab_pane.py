"""The bench: its tabs, and which of them have something to show."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TypeVar

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import QAbstractItemView, QTabWidget, QWidget

from eelgrass.desktop.look.palette import UI_POINTS, px, ui_font
from eelgrass.desktop.models import Models
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.window.tab_table import FIRST, TABS, Tab

_MOST_POINTS = 13.0  # so that their titles stay in view, however large the rest
_LEAST = QSize(300, 110)
_BY_TAB = Qt.FocusPolicy.TabFocus.value
_View = TypeVar("_View", bound=QWidget)


class TabPane(QTabWidget):
    """The tabs of a table, in its order. Their views are asked for by their class."""

    def __init__(self, models: Models, tabs: Iterable[Tab] = TABS) -> None:
        super().__init__()
        self._models = models
        self._tabs = [(tab, tab.make(models)) for tab in tabs]
        for tab, view in self._tabs:
            self.addTab(view, tr(tab.title))
            if tab.id == FIRST:
                self.setCurrentWidget(view)
        self.setDocumentMode(True)
        self.setAccessibleName(tr("The bench"))
        bar = self.tabBar()  # which a bench in document mode tells to draw a line that knows no look
        assert bar is not None
        bar.setDrawBase(False)
        models.look.dresses(lambda: bar.setFont(ui_font(min(UI_POINTS, _MOST_POINTS / px(1)))))
        self.offer()
        parts, changed = models.parts, models.workspace.changed
        for signal in (changed, parts.session.opened, parts.session.moved, parts.session.revealed):
            signal.connect(self.offer)
        parts.breakpoints.changed.connect(self.offer)
        models.clues.changed.connect(self.offer)
        models.workspace.exercise_opened.connect(self.offer)
        models.launch.changed.connect(self.offer)
        for changed in (models.comparison.compared, models.comparison.said, models.what_ifs.changed):
            changed.connect(self.offer)

    def view(self, kind: type[_View]) -> _View:
        """The view of a class."""
        return next(view for _, view in self._tabs if isinstance(view, kind))

    def show_view(self, kind: type[_View]) -> _View:
        """Brings the view of a class to the front; gives it."""
        view = self.view(kind)
        self.setCurrentWidget(view)
        return view

    def minimumSizeHint(self) -> QSize:
        """Whatever the widest of the views asks for: what has no room is cut or scrolled, and the window does not
        grow."""
        return super().minimumSizeHint().boundedTo(_LEAST)

    @property
    def front(self) -> QWidget | None:
        """What of the view in front is walked by keys: its list, table or text."""
        view = self.currentWidget()
        if view is None or view.focusPolicy() != Qt.FocusPolicy.NoFocus:
            return view
        lists = [its for its in view.findChildren(QAbstractItemView) if its.isVisible() and its.isEnabled()]
        others = (its for its in view.findChildren(QWidget) if its.isVisible() and its.focusPolicy().value & _BY_TAB)
        return lists[0] if lists else next(others, None)

    def offer(self) -> None:
        """Shows the tabs that have something to show, and hides the others."""
        for place, (tab, view) in enumerate(self._tabs):
            self.setTabVisible(place, tab.offered(self._models, view))
            count = tab.counted(self._models) if tab.counted is not None else 0
            title = f"{tr(tab.title)} ({count})" if count else tr(tab.title)
            if title != self.tabText(place):  # which lays all tabs out anew
                self.setTabText(place, title)
