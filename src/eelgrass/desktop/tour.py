"""A walk through the demo lesson that drives the real window and takes its pictures; needs no monitor."""

from __future__ import annotations

import sys
from functools import partial
from pathlib import Path
from tempfile import TemporaryDirectory

from PyQt6.QtCore import Qt

from eelgrass.desktop.exercise.authoring_view import AuthoringView
from eelgrass.desktop.exercise.solving_view import SolvingView
from eelgrass.desktop.tabs.breakpoints.breakpoints_view import BreakpointsView
from eelgrass.desktop.tabs.history_view import HistoryView
from eelgrass.desktop.tabs.output_view import OutputView
from eelgrass.desktop.tabs.trace_table.table_view import TableView
from eelgrass.desktop.tabs.trail_view import TrailView
from eelgrass.desktop.tabs.watch_view import WatchView
from eelgrass.desktop.tour_class import ClassTour
from eelgrass.desktop.tour_programs import COUNTS
from eelgrass.desktop.workspace.running.program_run import ProgramRun
from eelgrass.lessons.answering.answer import Said
from eelgrass.lessons.exercises.plan import PlannedPlace
from eelgrass.reading.breakpoints.breakpoint import Breakpoint
from eelgrass.reading.expressions.expression import parse_expression
from eelgrass.trace.program import Place


class Tour(ClassTour):
    """Walks the lesson; each picture and recording goes to `outdir`."""

    def run(self) -> int:
        """Walks; gives 0, or 1 with a sentence on standard error when something could not be done."""
        try:
            self.outdir.mkdir(parents=True, exist_ok=True)
            self.window.show()
            self._gauges()
            self._crabs()
            self._ferry()
            self._exercise()
            self._two_runs()
            self._program_and_model()
            with TemporaryDirectory() as folder:
                self._making(Path(folder))
                self._data(Path(folder))
                self._troubles(Path(folder))
                self._paper()
                self._class(Path(folder))
        except (OSError, TimeoutError) as error:
            print(f"eelgrass: The tour could not go on: {error}.", file=sys.stderr)
            return 1
        finally:
            self.window.close()
        return 0

    def _gauges(self) -> None:
        self.window.models.workspace.open_exercise(self.window.lesson.exercise("gauge_report"))
        self._wait(self._is_over, "the end of the first program")
        self._save("gauge_report")
        self._picture("gauges-start")
        self._visit(self._line_with("total = total + level"), 6)
        self._act("next_line", "next_line")
        self._picture("reading")
        self._act("look")
        self._picture("reading-dark")
        self._act("look", "present")
        self._picture("present")
        self._act("look", "present")
        self._visit(self._line_with("return total / 4"), 1)
        self._act("next_line")
        self._picture("gives-back")
        self._questions()
        self._tables()
        self._trails()

    def _trails(self) -> None:
        """Where a mean came from, link by link; and what kept a line out in a pass."""
        window, trails = self.window, self.window.models.trails
        self._visit(self._line_with("if mean > 2.4"), 1)
        window.show_view(TrailView)
        trails.ask_expression("mean")
        self._wait(lambda: bool(trails.beginning), "the trail", trails.asked)
        self._act("tall")
        for number in range(1, 4):
            trails.walk()
            self._wait(lambda number=number: len(trails.way) >= number, "a link", trails.stood)  # type: ignore[misc]
        self._picture("trail")
        self._act("tall")
        self._visit(self._line_with("if mean > 2.4"), 2)
        window.commands.kept_out(self._line_with('print(name, "high")'))
        self._wait(
            lambda: trails.title.startswith("Line") and bool(trails.beginning), "what kept the line out", trails.asked
        )
        trails.open(0)
        self._wait(lambda: 0 in trails.behind, "what lies behind", trails.opened)
        self._picture("kept-out")

    def _questions(self) -> None:
        """Questions kept in view; breakpoints, notes and a claim that is broken."""
        window, parts = self.window, self.window.models.parts
        session, watches, marks = parts.session, parts.watches, parts.breakpoints
        assert session.recording is not None
        module = session.recording.trace.program.modules[0]
        adds, test = self._line_with("total = total + level"), self._line_with("if mean > 2.4")
        self._visit(adds, 6)
        for text in ("total", "len(levels)", "level > 2.4", "mean"):
            watches.ask(parse_expression(text))
        self._wait(lambda: not watches.lane.is_busy, "the answers", watches.answered)
        window.commands.ask()
        window.view(WatchView).kept.setCurrentRow(3)
        self._picture("ask")
        marks.set_breakpoints(
            [
                Breakpoint(module.file, adds, "level > 2"),
                Breakpoint(module.file, test, note="{name} has a mean of {mean:.2f}"),
                Breakpoint(module.file, kind="function", name="mean_level"),
                Breakpoint(module.file, kind="everywhere", condition="total >= 0 and level <= 9", claims=True),
            ]
        )
        self._wait(lambda: not marks.lane.is_busy, "the hits", marks.changed)
        window.show_view(BreakpointsView)
        session.go(int(marks.hits[0].steps[0]))
        self._picture("breakpoints")
        window.models.parts.forget()

    def _tables(self) -> None:
        """The passes of a loop as a table and side by side, with a claim that one of them breaks."""
        window, parts = self.window, self.window.models.parts
        session, marks = parts.session, parts.breakpoints
        assert session.recording is not None
        file = session.recording.trace.program.modules[0].file
        adds = self._line_with("total = total + level")
        marks.set_breakpoints([Breakpoint(file, kind="everywhere", condition="level <= 9", claims=True)])
        self._wait(lambda: not marks.lane.is_busy, "the hits", marks.changed)
        self._visit(adds, 10)
        window.models.parts.options.table_scope = 2
        window.view(TableView).scope.setCurrentIndex(2)
        window.commands.show_table()
        self._picture("trace-table")
        self._act("passes")
        self._picture("passes")
        self._act("passes")
        window.models.parts.forget()

    def _exercise(self) -> None:
        """A student at work on an exercise, and one who says it first."""
        window, solving = self.window, self.window.models.solving
        window.models.workspace.open_exercise(window.lesson.exercise("berth_plan"))
        self._wait(self._is_over, "the end of the exercise's program")
        self._act("cases", "tall")
        self._wait(lambda: not solving.lane.is_busy, "the results of the cases", solving.judged)
        solving.use_hint()
        self._visit(self._line_with("return None"), 0)
        window.commands.mark_line()
        solving.attach()
        solving.set_reason("The function ends at the first berth that is too short.")
        self._picture("exercise")
        self._act("tall")
        window.models.launch.choose_case(window.models.launch.all_cases[0])
        self._wait(self._is_over, "the end of the case")
        self._act("first", "predict", "last")
        window.models.prediction.answer("3")
        self._act("last")
        self._picture("say-it-first")
        self._act("predict")
        self._desk_check()
        self._answer()

    def _desk_check(self) -> None:
        """A table half filled in by hand, and the route that it belongs to."""
        window = self.window
        window.models.workspace.open_exercise(window.lesson.exercise("gauge_report"))
        self._wait(self._is_over, "the end of the exercise's program")
        exercise = window.models.workspace.exercise
        assert exercise is not None
        self._go(exercise.desk_checks[0])
        model = window.view(TableView).model
        assert model.table is not None
        titles = [column.title for column in model.table.columns]
        for row, cells in enumerate(
            ({"level": "2.6", "total": "2.6"}, {"level": "2.7", "total": "5.3"}, {"level": "2.5"})
        ):
            for title, words in cells.items():
                model.setData(model.index(row, titles.index(title)), words, Qt.ItemDataRole.EditRole)
        window.view(TableView).check()
        self._picture("desk-check")
        self._act("route")
        self._wait(lambda: window.models.route.place == 0, "the first stop", window.models.route.changed)
        window.show_view(OutputView)
        self._act("next_mark", "present")
        self._picture("route")
        self._act("present", "route")

    def _go(self, place: PlannedPlace) -> None:
        """Goes to a planned place, and waits until it is on view."""
        arrived: list[PlannedPlace] = []
        self.window.models.navigator.arrived.connect(arrived.append)
        self.window.models.navigator.go(place)
        self._wait(lambda: bool(arrived), "a planned place", self.window.models.navigator.arrived)

    def _answer(self) -> None:
        """An answer as the instructor sees it, with the student's program."""
        window, solving = self.window, self.window.models.solving
        with TemporaryDirectory() as folder:
            path = Path(folder) / "mo.eelanswer"
            window.models.workspace.open_exercise(window.lesson.exercise("shoot_count"))
            self._wait(self._is_over, "the end of the exercise's program")
            exercise = window.models.workspace.exercise
            assert exercise is not None
            solving.use_hint()
            solving.toggle_line(Place(window.models.workspace.text_file, 7))
            solving.set_reason("The range begins at 1, so the first bed is left out.")
            self._visit(8, 0)
            solving.attach()
            solving.keep_said(Said(7, "How many passes will this loop make?", "4", "3", is_right=False))
            solving.keep_said(Said(9, "What does this call give back?", "31", "31", is_right=True))
            window.models.workspace.edit("", exercise.model or "", window.models.workspace.text)
            solving.run_all()
            self._wait(lambda: not solving.lane.is_busy, "the results of the cases", solving.judged)
            solving.save(path)
            window.commands.open_answer(path)
            self._act("tall")
            window.view(SolvingView).theirs.click()
            texts = window.models.parts.texts
            self._wait(lambda: texts.shows_lent and self._is_over(), "the end of the student's program")
            self._visit(8, 0)
            solving.comment("Well found. What does it give for no bed at all?")
            window.view(SolvingView).refresh()
            self._picture("answer")
            solving.close()
            self._wait(lambda: not texts.shows_lent and self._is_over(), "the end of the program")
            self._act("tall")

    def _making(self, folder: Path) -> None:
        """An exercise being made: its cases tried with the program and with the model, and its plan."""
        window, making = self.window, self.window.models.authoring
        window.models.workspace.open_exercise(window.lesson.exercise("gauge_report"))
        self._wait(self._is_over, "the end of the exercise's program")
        making.start(folder / "gauge_report")
        self._wait(self._is_over, "the end of the program that is made an exercise of")
        window.commands.show_making()
        window.view(AuthoringView).show_part(1)
        making.try_all()
        self._wait(lambda: not making.lane.is_busy, "the results of the cases", making.ended)
        self._visit(self._line_with("total = total + level"), 5)
        self._picture("making")
        window.view(AuthoringView).show_part(3)
        window.view(AuthoringView).plan.stops.setCurrentRow(2)
        self._picture("making-plan")
        self._act("tall")

    def _data(self, folder: Path) -> None:
        """Histories, and pictures of rows, grids and linked nodes."""
        window, parts = self.window, self.window.models.parts
        watches = parts.watches
        program = folder / "counts.py"
        program.write_text(COUNTS, encoding="utf-8")
        window.models.workspace.open(program)
        self._wait(self._is_over, "the end of the program with much data")
        self._visit(self._line_with("counts[place], counts[place + 1] ="), 5)
        self._act("next_line")
        for text in ("counts[0]", "place", "counts", "end"):
            watches.ask(parse_expression(text))
        self._wait(lambda: not watches.lane.is_busy, "the answers", watches.answered)
        window.show_view(HistoryView)
        self._picture("history")
        self._act("tall")
        window.commands.show_pictures()
        window.models.parts.options.set_pictures(["counts"])
        self._picture("list-with-indices")
        self._visit(self._line_with("flats[row][column] = 0"), 2)
        self._act("next_line")
        window.models.parts.options.set_pictures(["flats", "shoots"])
        self._picture("grid")
        self._visit(self._line_with("return mouth"), 0)
        window.models.parts.options.set_pictures(["mouth", "tags"])
        self._picture("linked-nodes")
        self._act("tall")
        window.models.parts.forget()

    def _crabs(self) -> None:
        self.window.models.workspace.open_exercise(self.window.lesson.exercise("crab_tags"))
        self._wait(self._is_over, "the end of the second program")
        self._save("crab_tags")
        self._visit(self._line_with("seen.append(tag)"), 5)
        self._act("next_line")
        self._picture("shared-list")

    def _ferry(self) -> None:
        workspace, run, place = self.window.models.workspace, self.window.models.run, self.window.input_line
        exercise = self.window.lesson.exercise("ferry_list")
        workspace.open_exercise(exercise)
        for number, line in enumerate(exercise.cases[0].input[:3]):
            self._wait(partial(_asks, run, f"party {number + 1}"), "a question of the third program")
            place.line.setText(line)
            if number == 1:
                self._picture("waiting-for-input")
            place.give.click()
        self._wait(self._is_over, "the end of the third program")
        self._save("ferry_list")
        self._act("last")
        self._picture("at-the-end")


def _asks(run: ProgramRun, words: str) -> bool:
    return run.is_waiting and words in run.prompt
