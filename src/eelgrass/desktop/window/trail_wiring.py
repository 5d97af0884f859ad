"""From where trails are asked for, and what follows the one on view."""

from __future__ import annotations

from eelgrass.desktop.commands.commands import Commands
from eelgrass.desktop.commands.panes import Panes
from eelgrass.desktop.models import Models
from eelgrass.desktop.source.statement_view import StatementView
from eelgrass.desktop.tabs.exceptions_view import ExceptionsView
from eelgrass.desktop.tabs.output_view import OutputView
from eelgrass.desktop.tabs.trace_table.table_view import TableView
from eelgrass.desktop.tabs.watch_view import WatchView


def wire_trails(models: Models, panes: Panes, statement: StatementView, commands: Commands) -> None:
    """Connects the menus that ask where something came from, or what kept it out; and the tide line with the trail."""
    trails, menu = models.trails, panes.source.menu
    menu.where_from.connect(commands.where_from)
    menu.kept_out.connect(commands.kept_out)
    menu.did.connect(commands.where_did)
    panes.view(OutputView).asked.connect(commands.where_printed)
    panes.view(ExceptionsView).asked.connect(commands.where_exception)
    for traced in (statement.traced, panes.view(WatchView).traced, panes.view(TableView).traced):
        traced.connect(commands.where_at)
    for changed in (trails.asked, trails.opened, trails.stood):
        changed.connect(lambda *_: panes.timeline.show_trail(trails.steps))
