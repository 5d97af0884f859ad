"""What there is to say at a stop of the route."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from eelgrass.desktop.activities.route import Route
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.markdown_view import MarkdownView
from eelgrass.desktop.look.palette import ui_font
from eelgrass.desktop.look.plain_text import PlainLabel
from eelgrass.desktop.services.translation import tr


class RouteView(QWidget):
    """What there is to say at this stop."""

    def __init__(self, route: Route, look: Look) -> None:
        super().__init__()
        self._route = route
        self.setAutoFillBackground(True)
        self.where = PlainLabel()
        self.say = MarkdownView(look, 11)
        self.back, self.on, self.leave = (QPushButton(tr(words)) for words in ("Stop before", "Next stop", "Leave"))
        row = QHBoxLayout()
        row.addWidget(self.where, 1)
        for button in (self.back, self.on, self.leave):
            row.addWidget(button)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 8, 16, 8)
        layout.addLayout(row)
        layout.addWidget(self.say, 1)
        self.back.clicked.connect(lambda: route.move(forward=False))
        self.on.clicked.connect(lambda: route.move(forward=True))
        self.leave.clicked.connect(lambda: route.set_on(False))
        route.changed.connect(self.refresh)
        look.dresses(self._dress)

    def _dress(self) -> None:
        self.where.setFont(ui_font(10, bold=True))
        self.refresh()

    def refresh(self) -> None:
        """Shows the stop."""
        its, stops = self._route, self._route.stops
        is_at = its.is_on and 0 <= its.place < len(stops)
        self.where.setText(tr("Stop {0} of {1}").format(its.place + 1, len(stops)) if is_at else "")
        self.say.setMarkdown(stops[its.place].say if is_at else "")
        self.back.setEnabled(its.place > 0)
        self.on.setEnabled(its.place + 1 < len(stops))
