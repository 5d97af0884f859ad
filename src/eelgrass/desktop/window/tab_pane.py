"""The bench: its tabs, and which of them have something to show."""

from __future__ import annotations

from PyQt6.QtWidgets import QTabWidget, QWidget

from eelgrass.desktop.services.translation import tr


class TabPane(QTabWidget):
    """Tabs by title, in their order."""

    def __init__(self, tabs: dict[str, QWidget], first: str) -> None:
        super().__init__()
        for title, view in tabs.items():
            self.addTab(view, tr(title))
        self.setCurrentWidget(tabs[first])
        self.setDocumentMode(True)
        bar = self.tabBar()  # which a bench in document mode tells to draw a line that knows no look
        assert bar is not None
        bar.setDrawBase(False)

    def offer(self, view: QWidget, on: bool) -> None:
        """Shows the tab of a view, or hides it while it has nothing to show."""
        self.setTabVisible(self.indexOf(view), on)
