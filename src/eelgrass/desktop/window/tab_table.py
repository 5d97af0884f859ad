"""All tabs of the bench in one table: a new one is a view, and a row here."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtWidgets import QWidget

from eelgrass.desktop.beside.comparison_view import ComparisonView
from eelgrass.desktop.desk.desk_view import DeskView
from eelgrass.desktop.desk.handlers_view import HandlersView
from eelgrass.desktop.exercise.authoring_view import AuthoringView
from eelgrass.desktop.exercise.solving_view import SolvingView
from eelgrass.desktop.models import Models
from eelgrass.desktop.source.diagnostics_view import DiagnosticsView
from eelgrass.desktop.tabs.breakpoints.breakpoints_view import BreakpointsView
from eelgrass.desktop.tabs.breakpoints.log_view import LogView
from eelgrass.desktop.tabs.cases_view import CasesView
from eelgrass.desktop.tabs.clues_view import CluesView
from eelgrass.desktop.tabs.exceptions_view import ExceptionsView
from eelgrass.desktop.tabs.history_view import HistoryView
from eelgrass.desktop.tabs.output_view import OutputView
from eelgrass.desktop.tabs.pictures_view import PicturesView
from eelgrass.desktop.tabs.threads_view import ThreadsView
from eelgrass.desktop.tabs.trace_table.table_view import TableView
from eelgrass.desktop.tabs.trail_view import TrailView
from eelgrass.desktop.tabs.watch_view import WatchView


def _always(_models: Models, _view: QWidget) -> bool:
    return True


@dataclass(frozen=True)
class Tab:
    """A tab: its id, its title, what makes its view, when it is offered (`offered(models, view)`), and how many things
    it has to show, where its title says so (`counted(models)`)."""

    id: str
    title: str
    make: Callable[[Models], QWidget]
    offered: Callable[[Models, QWidget], bool] = _always
    counted: Callable[[Models], int] | None = None


def _makes(models: Models, _view: QWidget) -> bool:
    return models.workspace.makes


def _solves(models: Models, _view: QWidget) -> bool:
    return models.workspace.exercise is not None and not models.workspace.makes


def _has_cases(models: Models, _view: QWidget) -> bool:
    return models.workspace.exercise is None and bool(models.launch.cases)


def _has_notes(models: Models, _view: QWidget) -> bool:
    return any(its.note for its in models.parts.breakpoints.breakpoints)


def _has_exceptions(models: Models, _view: QWidget) -> bool:
    return bool(models.parts.session.visible.exceptions)


def _has_threads(models: Models, _view: QWidget) -> bool:
    recording = models.parts.session.recording
    return recording is not None and recording.has_threads


def _has_desk(models: Models, _view: QWidget) -> bool:
    recording = models.parts.session.recording
    return recording is not None and recording.desk.is_there


def _has_handlers(models: Models, _view: QWidget) -> bool:
    recording = models.parts.session.recording
    return recording is not None and recording.has_handlers


def _is_compared(_models: Models, view: QWidget) -> bool:
    return isinstance(view, ComparisonView) and view.is_wanted


def _has_diagnostics(_models: Models, view: QWidget) -> bool:
    return isinstance(view, DiagnosticsView) and view.count() > 0


#: In their order; the first one at the beginning is `FIRST`.
TABS: tuple[Tab, ...] = (
    Tab("authoring", "Make", lambda m: AuthoringView(m.authoring, m.error, m.plan, m.look), _makes),
    Tab(
        "solving",
        "Exercise",
        lambda m: SolvingView(m.solving, m.parts.session, m.workspace, m.launch, m.look),
        _solves,
    ),
    Tab("output", "Output", lambda m: OutputView(m.parts.session, m.look)),
    Tab("cases", "Cases", lambda m: CasesView(m.kept_cases, m.look), _has_cases),
    Tab("table", "Trace table", lambda m: TableView(m.parts, m.launch, m.look)),
    Tab("watches", "Ask", lambda m: WatchView(m.parts.session, m.parts.watches, m.look)),
    Tab("trail", "Trail", lambda m: TrailView(m.parts.session, m.trails, m.kept_trails, m.look)),
    Tab(
        "clues",
        "Clues",
        lambda m: CluesView(m.parts.session, m.clues, m.authoring, m.look),
        counted=lambda m: len(m.clues.likely),
    ),
    Tab("history", "History", lambda m: HistoryView(m.parts.session, m.parts.watches, m.parts.options, m.look)),
    Tab("pictures", "Pictures", lambda m: PicturesView(m.parts.session, m.parts.options, m.look)),
    Tab("breakpoints", "Breakpoints", lambda m: BreakpointsView(m.parts.session, m.parts.breakpoints, m.look)),
    Tab("log", "Notes", lambda m: LogView(m.parts.session, m.parts.breakpoints, m.look), _has_notes),
    Tab("exceptions", "Exceptions", lambda m: ExceptionsView(m.parts.session, m.look), _has_exceptions),
    Tab("desk", "Desk", lambda m: DeskView(m.parts.session, m.desk, m.handlers, m.look), _has_desk),
    Tab("handlers", "Handlers", lambda m: HandlersView(m.parts.session, m.handlers, m.look), _has_handlers),
    Tab("threads", "Threads", lambda m: ThreadsView(m.parts.session, m.turns, m.look), _has_threads),
    Tab(
        "comparison",
        "Two runs",
        lambda m: ComparisonView(m.parts.session, m.comparison, m.what_ifs, m.look),
        _is_compared,
    ),
    Tab("diagnostics", "Text", lambda m: DiagnosticsView(m.look), _has_diagnostics),
)
FIRST = "output"
