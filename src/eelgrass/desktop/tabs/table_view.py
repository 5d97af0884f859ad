"""The trace table: what an instructor would draw on the board, with every cell leading to its moment."""

from __future__ import annotations

from collections.abc import Callable
from html import escape

from PyQt6.QtCore import QModelIndex, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QTextDocument
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QApplication,
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QMenu,
    QPushButton,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from eelgrass.desktop.look.palette import Palette, code_font, px
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.tabs.table_delegate import TableDelegate
from eelgrass.desktop.tabs.table_model import TableModel
from eelgrass.export.tables import csv_lines
from eelgrass.reading.expressions.expression import ExpressionError, is_expression
from eelgrass.reading.tables import trace_table as tables
from eelgrass.reading.tables.trace_table import Column, Table

_WIDE = 96
_NARROW = 52
#: So many rows are copied, printed or saved from the window at once.
MOST_ROWS = 100_000
_MOST_PRINTED = 2_000
_SCOPES = (
    "this call",
    "this call, with calls inside",
    "passes of this loop",
    "what the tide line shows",
    "the whole run",
)
_CALL, _CALL_INSIDE, _LOOP, _STRETCH, _RUN = range(5)


class TableView(QWidget):
    """Follows the reader. A click on a cell goes to the step that set it, one on a title follows that column on the
    tide line. `stretch` says which steps the tide line shows. Signals: `saving` when the person wants it as a file;
    `checked(title, right, wrong)` when what was filled in by hand has been compared."""

    saving = pyqtSignal()
    checked = pyqtSignal(str, int, int)

    def __init__(self, session: Session, colours: Palette, stretch: Callable[[], tuple[int, int]]) -> None:
        super().__init__()
        self._session = session
        self._stretch = stretch
        self._shown: tuple[object, ...] = ()
        self.scope = QComboBox()
        self.scope.addItems([tr(scope) for scope in _SCOPES])
        self.scope.setAccessibleName(tr("What the trace table is of"))
        self.line = QLineEdit()
        self.line.setFont(code_font(9.5))
        self.line.setPlaceholderText(tr("a column for an expression"))
        self.columns, self.more = QPushButton(tr("Columns")), QPushButton(tr("Table"))
        self.said = QLabel()
        self.said.setTextFormat(Qt.TextFormat.PlainText)
        self.said.setStyleSheet(f"color: {colours.ink_soft};")
        self.model = TableModel()
        self._hides_rest = False
        self.view = QTableView()
        self._delegate = TableDelegate(colours, self.model)
        self._dress(colours)
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
        self.scope.setCurrentIndex(session.table_scope)
        self.scope.currentIndexChanged.connect(self._take_scope)
        self.line.returnPressed.connect(self._add)
        self.view.clicked.connect(self._go)
        session.moved.connect(self.refresh)
        session.opened.connect(self.refresh)

    def _dress(self, colours: Palette) -> None:
        view = self.view
        view.setModel(self.model)
        view.setItemDelegate(self._delegate)
        view.setAccessibleName(tr("Trace table"))
        view.setSelectionMode(QAbstractItemView.SelectionMode.NoSelection)
        view.setFrameShape(view.Shape.NoFrame)
        view.setWordWrap(False)
        view.setStyleSheet(
            f"QTableView {{ background: {colours.foam}; color: {colours.ink}; gridline-color: {colours.sand_edge}; }}"
            f"QHeaderView::section {{ background: {colours.sand}; color: {colours.ink}; padding: 3px 6px; border: none;"
            f" border-right: 1px solid {colours.sand_edge}; border-bottom: 1px solid {colours.sand_edge}; }}"
        )
        rows, titles = view.verticalHeader(), view.horizontalHeader()
        assert rows is not None
        assert titles is not None
        rows.hide()
        rows.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        rows.setDefaultSectionSize(int(px(24)))
        titles.setSectionsMovable(True)
        titles.setSectionsClickable(True)
        titles.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        titles.setStretchLastSection(True)
        titles.sectionClicked.connect(self._follow_column)
        titles.sectionMoved.connect(lambda *_: self._remember())
        titles.sectionResized.connect(lambda *_: self._remember())
        self.titles = titles

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
        self.more.setMenu(menu)

    # What is shown

    def refresh(self) -> None:
        """Shows the table that belongs to the shown step, and where in it this is."""
        recording = self._session.recording
        if not self.isVisible():
            return
        if recording is None:
            self._shown = ()
            self.model.show(None, -1, self.model.hides_rest)
            return
        key = self._key()
        if key != self._shown and key[1] is not None:
            self._shown = key
            self._show(self._made())
        table = self.model.table
        self.said.setVisible(self._session.horizon is None)
        if self.model.hides_rest != (self._hides_rest or self._session.horizon is not None):
            self.model.show(table, self.model.here, not self.model.hides_rest)
        row = table.row_of(self._session.step) if table is not None else -1
        if row != self.model.here:
            self.model.move(row)
        if row >= 0:
            self.view.scrollTo(self.model.index(row, 0))

    def _key(self) -> tuple[object, ...]:
        """What decides which table is shown; with None in the second place, that there is none for this step."""
        recording, step = self._session.recording, self._session.step
        assert recording is not None
        scope = self.scope.currentIndex()
        if scope in (_CALL, _CALL_INSIDE):
            return recording, (scope, recording.stepping.frame_of(step))
        if scope == _LOOP:
            loop = tables.loop_at(recording, step)
            first = recording.loops.starts(step, loop)[:1].tolist() if loop >= 0 else []
            return recording, (scope, loop, first[0]) if first else None
        return recording, (scope, *(self._stretch() if scope == _STRETCH else ()))

    def _made(self) -> Table:
        recording, step = self._session.recording, self._session.step
        assert recording is not None
        scope = self.scope.currentIndex()
        if scope == _LOOP:
            return tables.of_loop(recording, step, tables.loop_at(recording, step))
        if scope in (_STRETCH, _RUN):
            return tables.of_run(recording, *(self._stretch() if scope == _STRETCH else ()))
        return tables.of_call(recording, recording.stepping.frame_of(step), scope == _CALL_INSIDE)

    def _show(self, table: Table) -> None:
        for text in self._session.table.expressions:
            if is_expression(text):
                table = tables.added(table, text)
        self.model.show(table, table.row_of(self._session.step), self.model.hides_rest)
        self.said.setText(tr("{0}: {1:,} rows").format(table.title, len(table.rows)))
        self._lay_out(table)

    def _take_scope(self, scope: int) -> None:
        self._session.table_scope = scope
        self._shown = ()
        self.refresh()
        if not self._shown and self._session.recording is not None:
            self.model.show(None, -1, self.model.hides_rest)
            self.said.setText(tr("The line about to run is in no loop."))

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()

    # Columns

    def _lay_out(self, table: Table) -> None:
        """Puts the columns as they were put the last time that there were such."""
        self.titles.blockSignals(True)
        kept = self._session.table.columns.get(_family(table), [])
        order = {title: place for place, title in enumerate(kept)}
        for place, column in enumerate(table.columns):
            is_short = column.kind in ("step", "line", "depth", "pass")
            width = self._session.table.widths.get(column.title, int(px(_NARROW if is_short else _WIDE)))
            self.titles.resizeSection(place, width)
            self.titles.setSectionHidden(place, column.title in self._session.table.hidden)
        wanted = sorted(
            range(len(table.columns)), key=lambda place: order.get(table.columns[place].title, 1000 + place)
        )
        for visual, logical in enumerate(wanted):
            self.titles.moveSection(self.titles.visualIndex(logical), visual)
        self.titles.blockSignals(False)

    def _remember(self) -> None:
        table = self.model.table
        if table is None:
            return
        places = sorted(range(len(table.columns)), key=self.titles.visualIndex)
        self._session.table.columns[_family(table)] = [table.columns[place].title for place in places]
        for place in places:
            if not self.titles.isSectionHidden(place) and place != places[-1]:
                self._session.table.widths[table.columns[place].title] = self.titles.sectionSize(place)

    def shown_columns(self) -> list[Column]:
        """The columns that are not hidden, in their order on the screen."""
        table = self.model.table
        places = sorted(range(self.model.columnCount()), key=self.titles.visualIndex)
        return [table.columns[place] for place in places if not self.titles.isSectionHidden(place)] if table else []

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
        column = self.model.table.columns[place]
        self.titles.setSectionHidden(place, not on)
        (self._session.table.hidden.discard if on else self._session.table.hidden.add)(column.title)
        if column.kind == "expression" and not on:
            self._session.table.expressions.remove(column.title)
            self._session.table.hidden.discard(column.title)

    def _add(self) -> None:
        if self.model.table is None:
            return
        try:
            table = tables.added(self.model.table, self.line.text())
        except ExpressionError as error:
            self.said.setText(str(error))
            return
        self._session.table.expressions.append(table.columns[-1].title)
        self.line.clear()
        self.model.show(table, self.model.here, self.model.hides_rest)
        self._lay_out(table)

    # Going

    def _go(self, index: QModelIndex) -> None:
        table = self.model.table
        if table is not None and self.model.filled is None:
            set_by = table.cell(index.row(), index.column()).set_by
            self._session.go(set_by if set_by >= 0 else int(table.goes_to[index.row()]))

    def _follow_column(self, place: int) -> None:
        assert self.model.table is not None
        column = self.model.table.columns[place]
        title = column.title.rpartition(".")[2] if column.kind == "name" else column.title.rstrip("?")
        if is_expression(title) and column.kind in ("name", "expression", "condition"):
            self._session.follow(title)

    # Out of the window

    def toggle_rest(self) -> None:
        """Hides the rows after the shown moment, or shows them again."""
        self._hides_rest = not self._hides_rest
        self.model.show(self.model.table, self.model.here, self._hides_rest or self._session.horizon is not None)

    # By hand

    def toggle_by_hand(self) -> None:
        """Empties the table, to be filled in as on paper; or shows it filled again."""
        self.model.fill_by_hand(self.model.filled is None)
        on = self.model.filled is not None
        triggers = QAbstractItemView.EditTrigger
        self.view.setEditTriggers(triggers.AllEditTriggers if on else triggers.NoEditTriggers)
        modes = QAbstractItemView.SelectionMode
        self.view.setSelectionMode(modes.SingleSelection if on else modes.NoSelection)
        self.said.setText(
            tr("Write what each line makes of the values; Table, Check says which cells are right.") if on else ""
        )

    def begin_by_hand(self, of_call: bool) -> str:
        """The table of the call, or of the passes of the loop, of the shown step is to be filled in by hand; gives its
        title."""
        self.scope.setCurrentIndex(_CALL if of_call else _LOOP)
        self.refresh()
        if self.model.filled is None:
            self.toggle_by_hand()
        return self.model.table.title if self.model.table is not None else ""

    def check(self) -> None:
        """Compares what was filled in; goes to the step of the first cell that is wrong."""
        table, found = self.model.table, self.model.check()
        if table is None or self.model.filled is None:
            return
        told = tr("right: {0}, wrong: {1}, missing: {2}")
        self.said.setText(told.format(len(found.right), len(found.wrong), len(found.missing)))
        self.checked.emit(table.title, len(found.right), len(found.wrong) + len(found.missing))
        if found.first is not None:
            cell = table.cell(*found.first)
            self._session.go(cell.set_by if cell.set_by >= 0 else int(table.goes_to[found.first[0]]))

    def chosen(self) -> Table | None:
        """The table with the columns that are shown, for others to write."""
        return self.model.table.with_columns(self.shown_columns()) if self.model.table else None

    def _rows(self, most: int) -> range:
        return range(min(self.model.rowCount(), most))

    def as_csv(self) -> str:
        """What is shown, as comma-separated values."""
        table = self.chosen()
        return "".join(csv_lines(table, self._rows(MOST_ROWS))) if table is not None else ""

    def copy(self) -> None:
        """Copies what is shown, tab by tab, as spreadsheets take it."""
        table, clipboard = self.chosen(), QApplication.clipboard()
        if table is not None and clipboard is not None:
            lines = (line.rstrip("\r\n") for line in csv_lines(table, self._rows(MOST_ROWS), "\t"))
            clipboard.setText("\n".join(lines))

    def document(self) -> QTextDocument:
        """What is shown, as a document to print."""
        table = self.chosen()
        rows = []
        for row in self._rows(_MOST_PRINTED) if table is not None else range(0):
            assert table is not None
            cells = (table.cell(row, place) for place in range(len(table.columns)))
            rows.append("".join(_html_cell(cell.text, cell.changed) for cell in cells))
        titles = "".join(f"<th>{escape(column.title)}</th>" for column in (table.columns if table else []))
        body = "".join(f"<tr>{row}</tr>" for row in rows)
        made = QTextDocument()
        title = escape(table.title) if table else ""
        made.setHtml(
            f"<h3>{title}</h3><table border='1' cellspacing='0' cellpadding='3'><tr>{titles}</tr>{body}</table>"
        )
        return made

    def print_(self) -> None:
        """Prints what is shown."""
        from PyQt6.QtPrintSupport import QPrintDialog, QPrinter  # loads slowly, and is needed seldom

        printer = QPrinter()
        if QPrintDialog(printer, self).exec():
            self.document().print(printer)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Ctrl+C copies the table."""
        if (
            event is not None
            and event.key() == Qt.Key.Key_C
            and event.modifiers() & Qt.KeyboardModifier.ControlModifier
        ):
            self.copy()
        elif event is not None:
            super().keyPressEvent(event)


def _family(table: Table) -> str:
    """Tables whose columns are laid out alike: those of one function, or of one loop."""
    return table.title.partition(", call")[0]


def _html_cell(text: str, changed: bool) -> str:
    return f"<td><b>{escape(text)}</b></td>" if changed else f"<td>{escape(text)}</td>"
