"""The trace table: what an instructor would draw on the board, with every cell leading to its moment."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QMenu, QPushButton, QVBoxLayout, QWidget

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.widgets import CodeLine, SoftLabel, offer_trail
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session_parts import SessionParts
from eelgrass.desktop.tabs.trace_table import table_output
from eelgrass.desktop.tabs.trace_table.table_grid import TableGrid
from eelgrass.desktop.tabs.trace_table.table_model import TableModel
from eelgrass.desktop.workspace.running.launch import Launch
from eelgrass.reading.expressions.expression import ExpressionError, is_expression
from eelgrass.reading.recording import Recording
from eelgrass.reading.tables import trace_table as tables
from eelgrass.reading.tables.trace_table import Table, TableKey

_SCOPES = (
    "this call",
    "this call, with calls inside",
    "passes of this loop",
    "what the tide line shows",
    "the whole run",
)
_CALL, _CALL_INSIDE, _LOOP, _STRETCH, _RUN = range(5)
_BY_HAND = "Write what each line makes of the values; Table, Check says which cells are right."


class TableView(QWidget):
    """Follows the session; a table that is filled in by hand stays on view until it is left. A click on a cell goes to
    the step that set it, one on a title follows that column on the tide line.

    Signals: `saving` when the person wants it as a file; `checked(TableKey, title, right, wrong)` when what was filled
    in by hand has been compared; `traced(text, step)` for a cell whose trail is wanted."""

    saving = pyqtSignal()
    checked = pyqtSignal(object, str, int, int)
    traced = pyqtSignal(str, int)

    def __init__(self, parts: SessionParts, launch: Launch, look: Look) -> None:
        super().__init__()
        self._session = parts.session
        self._watches = parts.watches
        self._options = parts.options
        self._sheets = parts.sheets
        self._launch = launch
        self._shown: tuple[object, ...] = ()
        self._hides_rest = False
        self.scope = QComboBox()
        self.scope.addItems([tr(scope) for scope in _SCOPES])
        self.scope.setAccessibleName(tr("What the trace table is of"))
        self.line = CodeLine(look, 9.5)
        self.line.setPlaceholderText(tr("a column for an expression"))
        self.columns, self.more = QPushButton(tr("Columns")), QPushButton(tr("Table"))
        self.said = SoftLabel(look)
        self.model = TableModel(self._write)
        self.view = TableGrid(self.model, look)
        self.titles = self.view.titles
        above = QHBoxLayout()
        for widget, room in ((self.scope, 0), (self.line, 1), (self.columns, 0), (self.more, 0)):
            above.addWidget(widget, room)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 6, 8, 4)
        layout.setSpacing(4)
        layout.addLayout(above)
        layout.addWidget(self.said)
        layout.addWidget(self.view, 1)
        self._make_menus()
        self.scope.setCurrentIndex(parts.options.table_scope)
        self._connect()

    def _connect(self) -> None:
        self.scope.currentIndexChanged.connect(self._take_scope)
        self.line.returnPressed.connect(self._add)
        self.view.clicked.connect(self._go)
        self.view.activated.connect(self._go)
        self.view.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.view.customContextMenuRequested.connect(self._offer_trail)
        self.titles.sectionClicked.connect(self._follow_column)
        self.titles.sectionMoved.connect(lambda *_: self._remember())
        self.titles.sectionResized.connect(lambda *_: self._remember())
        for changed in (
            *(self._session.moved, self._session.opened, self._session.revealed),
            self._options.stretched,
            self._sheets.changed,
        ):
            changed.connect(self.refresh)

    def _make_menus(self) -> None:
        self._choice = QMenu(self)
        self.columns.setMenu(self._choice)
        self._choice.aboutToShow.connect(self._fill_choice)
        menu = QMenu(self)
        for title, call in (
            ("Hide rows to come", self.toggle_rest),
            ("Fill in by hand", self.toggle_by_hand),
            ("Check what is filled in", self.check),
            ("Copy", self.copy),
            ("Save as CSV…", self.saving.emit),
            ("Print…", self.print_),
        ):
            action = menu.addAction(tr(title))
            assert action is not None
            action.triggered.connect(lambda _checked, call=call: call())
            if call in (self.toggle_rest, self.toggle_by_hand):
                action.setCheckable(True)
                menu.aboutToShow.connect(lambda action=action, call=call: action.setChecked(self._is_on(call)))
        self.more.setMenu(menu)

    def _is_on(self, call: object) -> bool:
        return self._hides_rest if call == self.toggle_rest else self._sheets.open is not None

    # What is shown

    def refresh(self) -> None:
        """Shows the table that belongs to the shown step, and where in it this is."""
        recording = self._session.recording
        if not self.isVisible():
            return
        by_hand = self._sheets.open is not None and self._sheets.open.case == self._launch.case.name
        if recording is None:
            self._shown = ()
            self.model.show(None, -1, 0)
            return
        key = self._key_by_hand(recording) if by_hand else self._key(recording)
        if key != self._shown and key[1] is not None:
            self._shown = key
            self.view.set_by_hand(by_hand)
            self._show(self._by_hand(recording) if by_hand else self._made(recording), by_hand)
        self.said.setVisible(by_hand or self._session.visible.is_whole)
        table = self.model.table
        if table is not None:
            here = table.row_of(self._session.step)
            rows = self._rows_to_show(table, here, by_hand)
            if (here, rows) != (self.model.here, self.model.rows):
                self.model.move(here, rows)
            if here >= 0 and not by_hand:
                self.view.scrollTo(self.model.index(min(here, rows - 1), 0))

    def _rows_to_show(self, table: Table, here: int, by_hand: bool) -> int:
        return self._session.visible.rows_of(table, here, self._hides_rest and not by_hand)

    def _key(self, recording: Recording) -> tuple[object, ...]:
        """What decides which table is shown; with None in the second place, that there is none for this step."""
        step, scope = self._session.step, self.scope.currentIndex()
        if scope in (_CALL, _CALL_INSIDE):
            return recording, (scope, recording.stepping.frame_of(step))
        if scope == _LOOP:
            loop = tables.loop_at(recording, step)
            first = recording.loops.starts(step, loop)[:1].tolist() if loop >= 0 else []
            return recording, (scope, loop, first[0]) if first else None
        return recording, (scope, *(self._options.stretch if scope == _STRETCH else ()))

    def _key_by_hand(self, recording: Recording) -> tuple[object, ...]:
        assert self._sheets.open is not None
        return recording, ("by hand", self._sheets.open.table)

    def _made(self, recording: Recording) -> Table | None:
        step, scope = self._session.step, self.scope.currentIndex()
        if scope == _LOOP:
            return tables.of_loop(recording, step, tables.loop_at(recording, step))
        if scope in (_STRETCH, _RUN):
            return tables.of_run(recording, *(self._options.stretch if scope == _STRETCH else ()))
        return tables.of_call(recording, recording.stepping.frame_of(step), scope == _CALL_INSIDE)

    def _by_hand(self, recording: Recording) -> Table | None:
        assert self._sheets.open is not None
        return tables.of_key(recording, self._sheets.open.table)

    def _show(self, table: Table | None, by_hand: bool) -> None:
        if table is None:
            self.model.show(None, -1, 0)
            self.said.setText(tr("This run has no such table; what you have written is kept."))
            return
        for text in self._options.table.expressions:
            if is_expression(text):
                table = tables.added(table, text)
        here = table.row_of(self._session.step)
        rows = self._rows_to_show(table, here, by_hand)
        self.model.show(table, here, rows, self._sheets.open if by_hand else None)
        title = tr("{0}: {1:,} rows").format(table.title, len(table.rows))
        self.said.setText(f"{table.title}. {tr(_BY_HAND)}" if by_hand else title)
        self.view.lay_out(table, self._options.table)

    def _take_scope(self, scope: int) -> None:
        self._options.table_scope = scope
        self._shown = ()
        if self._sheets.open is not None:
            self._sheets.leave()
        self.refresh()
        if not self._shown and self._session.recording is not None:
            self.model.show(None, -1, 0)
            self.said.setText(tr("The line about to run is in no loop."))

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()

    # Columns

    def _remember(self) -> None:
        if self.model.table is not None:
            self.view.remember(self.model.table, self._options.table)

    def _fill_choice(self) -> None:
        self._choice.clear()
        for place, column in enumerate(self.model.table.columns if self.model.table else []):
            action = self._choice.addAction(column.title)
            assert action is not None
            action.setCheckable(True)
            action.setChecked(not self.titles.isSectionHidden(place))
            action.triggered.connect(lambda on, place=place: self.show_column(place, on))

    def show_column(self, place: int, on: bool) -> None:
        """Shows or hides a column; one that was added goes for good."""
        assert self.model.table is not None
        column, kept = self.model.table.columns[place], self._options.table
        self.titles.setSectionHidden(place, not on)
        (kept.hidden.discard if on else kept.hidden.add)(column.id)
        if column.kind == "expression" and not on:
            kept.expressions.remove(column.asks)
            kept.hidden.discard(column.id)

    def _add(self) -> None:
        if self.model.table is None:
            return
        try:
            table = tables.added(self.model.table, self.line.text())
        except ExpressionError as error:
            self.said.setText(str(error))
            return
        self._options.table.expressions.append(table.columns[-1].asks)
        self.line.clear()
        self.model.show(table, self.model.here, self.model.rows, self._sheets.open if self.model.filled else None)
        self.view.lay_out(table, self._options.table)

    # Going

    def _go(self, index: QModelIndex) -> None:
        table = self.model.table
        if table is not None and self.model.filled is None:
            set_by = table.cell(index.row(), index.column()).set_by
            self._session.go(set_by if set_by >= 0 else int(table.goes_to[index.row()]))

    def _offer_trail(self, at: QPoint) -> None:
        index, table = self.view.indexAt(at), self.model.table
        viewport = self.view.viewport()
        if table is None or self.model.filled is not None or not index.isValid() or viewport is None:
            return
        asks, step = table.columns[index.column()].asks, int(table.rows[index.row()])
        if is_expression(asks):
            offer_trail(self, viewport.mapToGlobal(at), lambda: self.traced.emit(asks, step))

    def _follow_column(self, place: int) -> None:
        assert self.model.table is not None
        asks = self.model.table.columns[place].asks
        if is_expression(asks):
            self._watches.follow(asks)

    # By hand

    def toggle_by_hand(self) -> None:
        """Empties the table, to be filled in as on paper; or shows it filled again. What was written stays for the next
        time."""
        if self._sheets.open is not None:
            self._sheets.leave()
        elif self.model.table is not None:
            self._sheets.begin(self._launch.case.name, self.model.table.key)

    def begin_by_hand(self, of_call: bool) -> TableKey | None:
        """The table of the call, or of the passes of the loop, of the shown step is to be filled in by hand; gives its
        key."""
        self.scope.setCurrentIndex(_CALL if of_call else _LOOP)
        self.refresh()
        if self.model.table is not None and self.model.filled is None:
            self.toggle_by_hand()
        return self.model.table.key if self.model.table is not None else None

    def _write(self, row: int, column: str, words: str) -> None:
        self._sheets.write(row, column, words)

    def check(self) -> None:
        """Compares what was filled in; goes to the step of the first cell that is wrong."""
        table, found = self.model.table, self.model.check()
        if table is None or self.model.filled is None:
            return
        told = tr("right: {0}, wrong: {1}, missing: {2}")
        self.said.setText(told.format(len(found.right), len(found.wrong), len(found.missing)))
        self.checked.emit(table.key, table.title, len(found.right), len(found.wrong) + len(found.missing))
        if found.first is not None:
            cell = table.cell(*found.first)
            self._session.go(cell.set_by if cell.set_by >= 0 else int(table.goes_to[found.first[0]]))

    # Out of the window

    def toggle_rest(self) -> None:
        """Hides the rows after the shown moment, or shows them again."""
        self._hides_rest = not self._hides_rest
        self.refresh()

    def chosen(self) -> Table | None:
        """The table with the columns that are shown, for others to write."""
        return self.model.table.with_columns(self.view.shown_columns()) if self.model.table else None

    def as_csv(self) -> str:
        """What is shown, as comma-separated values."""
        table = self.chosen()
        return table_output.as_csv(table, self.model.rows) if table is not None else ""

    def copy(self) -> None:
        """Copies what is shown."""
        table = self.chosen()
        if table is not None:
            table_output.copy(table, self.model.rows)

    def print_(self) -> None:
        """Prints what is shown."""
        table = self.chosen()
        if table is not None:
            table_output.print_table(table, self.model.rows, self)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Ctrl+C copies the table."""
        is_copy = event is not None and event.key() == Qt.Key.Key_C
        if event is not None and is_copy and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.copy()
        elif event is not None:
            super().keyPressEvent(event)
