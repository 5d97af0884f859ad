"""Asks for one breakpoint, note or claim: where, what to ask there, and what is wished for."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtWidgets import (
    QComboBox,
    QLabel,
    QSpinBox,
    QWidget,
)

from eelgrass.desktop.look.dialog import FormDialog
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.widgets import CodeLine
from eelgrass.desktop.services.translation import tr
from eelgrass.reading.breakpoints.breakpoint import Breakpoint
from eelgrass.reading.breakpoints.locations import Kind, qualified_name
from eelgrass.reading.expressions.expression import ExpressionError, parse_expression, template
from eelgrass.reading.recording import Recording

#: Kinds of places: the words for them, and for the field beside, '' where there is none.
_KINDS: dict[Kind, tuple[str, str]] = {
    "line": ("at a line", "its number"),
    "function": ("in a function", "its name, as: Crab.move"),
    "exception": ("where an exception is raised", "its type; nothing: any"),
    "write": ("where a value is written", "a name, element or field, as: stock[2]"),
    "change": ("where a value becomes another", "a name, element or field, as: stock[2]"),
    "read": ("where a value is read", "a name, element or field, as: stock[2]"),
    "everywhere": ("everywhere", ""),
}
_STOP, _NOTE, _CLAIM = range(3)
_WISHES = ("stop there", "note a text there", "claim that something always holds")


class BreakpointDialog(FormDialog):
    """`made()` gives the breakpoint, after `exec` has been answered with yes."""

    def __init__(self, parent: QWidget, recording: Recording, its: Breakpoint, look: Look) -> None:
        self.wish, self.kind, self.function, self.which = (QComboBox() for _ in range(4))
        self.wish.addItems([tr(word) for word in _WISHES])
        self.kind.addItems([tr(words) for words, _ in _KINDS.values()])
        self.name, self.condition, self.note = (CodeLine(look) for _ in range(3))
        for line in (self.name, self.condition, self.note):
            line.setMinimumWidth(340)
        self.count, self.call = QSpinBox(), QSpinBox()
        self.count.setRange(1, 10_000_000)
        self.call.setRange(0, 10_000_000)
        self.call.setSpecialValueText(tr("every call"))
        self.which.addItems([tr("every time"), tr("only the n-th time"), tr("every n-th time")])
        fields = (
            ("Wish", self.wish),
            ("Where", self.kind),
            ("", self.name),
            ("A name of", self.function),
            ("In call number", self.call),
            ("Only where", self.condition),
            ("Text", self.note),
            ("Which", self.which),
            ("n", self.count),
        )
        super().__init__(parent, "Breakpoint, note or claim", fields, look)
        self._its = its
        self._recording = recording
        self._fill(its)
        for combo in (self.wish, self.kind, self.which):
            combo.currentIndexChanged.connect(self._show_rows)
        self._show_rows()
        has_name = bool(_KINDS[its.kind][1])
        (self.note if its.note else self.name if has_name and not its.claims else self.condition).setFocus()

    def _fill(self, its: Breakpoint) -> None:
        program = self._recording.trace.program
        names = [qualified_name(program, number) for number in range(len(program.functions))]
        self.function.addItem(tr("the module"), "")
        for name in dict.fromkeys(name for name in names if name):
            self.function.addItem(name, name)
        self.function.setCurrentIndex(max(self.function.findData(its.function), 0))
        self.wish.setCurrentIndex(_CLAIM if its.claims else _NOTE if its.note else _STOP)
        self.kind.setCurrentIndex(list(_KINDS).index(its.kind))
        self.name.setText(str(its.line) if its.kind == "line" else its.name)
        self.condition.setText(its.condition)
        self.note.setText(its.note)
        self.which.setCurrentIndex(1 if its.nth else 2 if its.every > 1 else 0)
        self.count.setValue(its.nth or its.every)
        self.call.setValue(its.call)

    @property
    def _kind(self) -> Kind:
        return list(_KINDS)[self.kind.currentIndex()]

    def _show_rows(self) -> None:
        """Shows what the wish and the place need, and nothing else."""
        wish, of_value = self.wish.currentIndex(), self._kind in ("write", "change", "read")
        self.name.setPlaceholderText(tr(_KINDS[self._kind][1]))
        shown = {
            self.name: bool(_KINDS[self._kind][1]),
            self.function: of_value,
            self.call: of_value,
            self.note: wish == _NOTE,
            self.which: wish != _CLAIM,
            self.count: wish != _CLAIM and self.which.currentIndex() > 0,
        }
        for widget, is_shown in shown.items():
            self._rows.setRowVisible(widget, is_shown)
        label = self._rows.labelForField(self.condition)
        if isinstance(label, QLabel):
            label.setText(tr("Claim" if wish == _CLAIM else "Only where"))
        self.condition.setPlaceholderText(
            tr("what should always hold, as: level >= 0" if wish == _CLAIM else "an expression; nothing: always")
        )
        self.note.setPlaceholderText(tr("with values in braces, as: {name} has {len(seats)} seats"))
        self.adjustSize()

    def made(self) -> Breakpoint:
        """What was asked for."""
        kind, wish, which = self._kind, self.wish.currentIndex(), self.which.currentIndex()
        name = self.name.text().strip()
        line = int(name) if kind == "line" else 0
        same = kind == "line" and line == self._its.line and self._its.statement
        return replace(
            self._its,
            kind=kind,
            line=line,
            name="" if kind in ("line", "everywhere") else name,
            function=self.function.currentData() if kind in ("write", "change", "read") else "",
            call=self.call.value() if kind in ("write", "change", "read") else 0,
            condition=self.condition.text().strip(),
            note=self.note.text() if wish == _NOTE else "",
            claims=wish == _CLAIM,
            nth=self.count.value() if which == 1 and wish != _CLAIM else 0,
            every=self.count.value() if which == 2 and wish != _CLAIM else 1,
            statement=same or self._statement(line),
        )

    def _statement(self, line: int) -> str:
        modules = self._recording.trace.program.modules
        source = next((module.source for module in modules if module.file == self._its.file), "")
        lines = source.split("\n")
        return lines[line - 1].strip() if 0 < line <= len(lines) else ""

    def _trouble(self) -> str:
        """What is wrong with what was asked for, in a sentence; '' for nothing."""
        wish, name = self.wish.currentIndex(), self.name.text().strip()
        if self._kind == "line" and not (name.isdecimal() and self._statement(int(name))):
            return tr("“{0}” is no line of this program with text in it.").format(name)
        if self._kind in ("function", "write", "change", "read") and not name:
            return tr("It is not said yet of what: {0}.").format(_KINDS[self._kind][1])
        asks = self.condition.text().strip()
        if not asks and (wish == _CLAIM or self._kind == "everywhere"):
            return tr("There is no question here yet: write an expression.")
        if wish == _NOTE and not self.note.text().strip():
            return tr("There is no text here yet.")
        try:
            if asks:
                parse_expression(asks)
            if wish == _NOTE:
                template(self.note.text())
        except ExpressionError as error:
            return str(error)
        return ""
