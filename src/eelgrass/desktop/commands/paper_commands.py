"""What the actions do for those without Eelgrass: pages for browsers, and paper."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from eelgrass.desktop.commands.base import CommandGroup
from eelgrass.desktop.commands.dialogs.paper_dialog import PaperDialog
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.tabs.trace_table.table_view import TableView
from eelgrass.export.handouts import handout
from eelgrass.export.sheets import sheet


class PaperCommands(CommandGroup):
    """The group “Hand out”."""

    def ask_page(self) -> None:
        """Asks where to write the page of the run on view."""
        suggestion = Path(self._workspace.title).with_suffix(".html").name
        path = self._ask_target(tr("A page for browsers"), suggestion, "Pages (*.html)")
        if path is not None:
            self._models.pages.write(path)

    def show_sheet(self) -> None:
        """Shows the trace table on view as a desk check for pen and paper, before it is printed."""
        view = self._panes.show_view(TableView)
        table, title = view.chosen(), self._workspace.title
        if table is None:
            self._say(tr("There is no trace table here: choose a call, a loop or a stretch first."))
            return
        self.preview("Desk check on paper", lambda with_solution: sheet(table, title, with_solution), True).open()

    def show_handout(self) -> None:
        """Shows the text with its margin notes as it stands now, before it is printed."""
        recording, step, title = self._session.recording, self._session.step, self._workspace.title
        assert recording is not None
        self.preview("The text on paper", lambda _: handout(recording, step, title), False).open()

    def preview(self, title: str, document: Callable[[bool], str], has_solution: bool) -> PaperDialog:
        """The dialog in which a document is looked at before it is printed."""
        return PaperDialog(self._panes.widget, title, document, has_solution, self._models.messages)
