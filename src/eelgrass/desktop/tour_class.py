"""The part of the tour with a whole class: what it handed in, in groups; and what goes on paper."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QItemSelectionModel

from eelgrass.desktop.commands.dialogs.paper_dialog import PaperDialog
from eelgrass.desktop.tabs.trace_table.table_view import TableView
from eelgrass.desktop.tour_troubles import TroublesTour
from eelgrass.runs.confinement import is_confining

#: How the hand-ins of a made-up class came to be: how many wrote the model otherwise, what, and what they wrote.
_WRITTEN = (
    (6, "total = total + counts[bed]", "total += counts[bed]"),
    (5, "range(len(counts))", "range(1, len(counts))"),
    (4, "range(len(counts))", "range(len(counts) - 1)"),
    (3, "    return total", "        return total"),
    (2, "counts[bed]", "bed"),
    (1, "def report(counts):", "def report(counts)"),
    (1, "total = 0", "total = ''"),
)
_NAMES = (
    *("Moor", "Reed", "Sedge", "Fen", "Holm", "Strand", "Wrack", "Kelp", "Dune", "Skerry", "Marsh", "Voe"),
    *("Ness", "Ayre", "Firth", "Geo", "Haaf", "Stack", "Sound", "Wick", "Inlet", "Spit"),
)


class ClassTour(TroublesTour):
    """A class of the Bay of Linnet."""

    def _class(self, folder: Path) -> None:
        """Judges what a class handed in, opens a group, and reads one of its hand-ins beside the model."""
        if not is_confining():
            return  # programs of others are not run here
        exercise = self.window.lesson.exercise("shoot_count")
        hand_ins = folder / "hand_ins"
        hand_ins.mkdir()
        names = iter(_NAMES)
        for many, what, written in _WRITTEN:
            for number in range(many):
                name = ("bed", "place")[number % 2]
                text = (exercise.model or "").replace(what, written).replace("bed in", f"{name} in")
                text = text.replace("[bed]", f"[{name}]").replace("+ bed", f"+ {name}")
                (hand_ins / f"{next(names)}_shoot_count.py").write_text(text, encoding="utf-8")
        self.window.models.workspace.open_exercise(exercise)
        self._wait(self._is_over, "the end of the exercise's run")
        work = self.window.models.class_work
        self.window.commands.class_window.show()
        work.open([hand_ins])
        self._wait(lambda: bool(work.groups) and len(work.differences) == len(work.groups), "the class", work.changed)
        its = self.window.commands.class_window
        its.cards.setCurrentRow(1, QItemSelectionModel.SelectionFlag.ClearAndSelect)
        work.decide_group(work.groups[1].key, comment="Which bed does the loop begin with?", points=2.0)
        self._picture("class-set", its)
        its.tabs.setCurrentWidget(its.matrix)
        self._picture("class-matrix", its)
        its.close()
        self.window.models.hand_in.show(work.groups[1].typical)
        beside = self.window.models.comparison
        self._wait(lambda: beside.beside is not None, "the hand-in beside the model", beside.compared)
        self._picture("hand-in")

    def _paper(self) -> None:
        """The passes of a loop as a desk check for pen and paper."""
        self.window.models.workspace.open_exercise(self.window.lesson.exercise("shoot_count"))
        self._wait(self._is_over, "the end of the exercise's run")
        self._visit(self._line_with("total = total + counts[bed]"), 1)
        self.window.models.parts.options.table_scope = 1
        self.window.view(TableView).scope.setCurrentIndex(1)
        self.window.commands.show_sheet()
        (dialog,) = self.window.findChildren(PaperDialog)
        self._picture("sheet", dialog)
        dialog.reject()
