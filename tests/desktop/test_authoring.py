"""Making an exercise through the window, and walking it as a student."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from msgspec.structs import replace as replace_case
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QMessageBox
from pytestqt.qtbot import QtBot
from support.driving import ended
from support.programs import RIGHT, WRONG

from eelgrass.desktop.exercise.authoring_view import AuthoringView
from eelgrass.desktop.exercise.case_dialog import CaseDialog
from eelgrass.desktop.exercise.solving_view import SolvingView
from eelgrass.desktop.tabs.trace_table.table_view import TableView
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.exercises import exercise as exercises
from eelgrass.lessons.exercises.exercise import Exercise, load
from eelgrass.lessons.making.authoring import begin


@pytest.fixture
def made(tmp_path: Path) -> Exercise:
    program = tmp_path / "shoots.py"
    program.write_text(RIGHT)
    return begin(tmp_path / "reef_shoots", program, RIGHT)


def tried(window: MainWindow, qtbot: QtBot, act: Callable[[], object]) -> None:
    with qtbot.waitSignal(window.models.authoring.ended, timeout=60_000):
        act()


def on_disk(window: MainWindow, folder: Path) -> Exercise:
    window.models.writer.flush()
    return load(folder)


def missing(window: MainWindow) -> list[str]:
    its = window.view(AuthoringView).missing
    return [item.text() for row in range(its.count()) if (item := its.item(row)) is not None]


def test_an_exercise_is_made_walked_and_handed_out(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    program = tmp_path / "shoots.py"
    program.write_text(RIGHT)
    with qtbot.waitSignal(window.models.run.asked, timeout=30_000):
        window.models.workspace.open(program)
    chosen = [str(tmp_path / "reef_shoots")]
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (chosen[0], ""))
    with qtbot.waitSignal(window.models.run.asked, timeout=30_000):
        window.commands.ask_make()
    making, view = window.models.authoring, window.view(AuthoringView)
    assert window.tabs.currentWidget() is view
    assert any("nothing is wrong with it yet" in fault for fault in missing(window))
    view.words.title.setFocus()
    view.words.title.selectAll()
    qtbot.keyClicks(view.words.title, "Shoots at the reef")
    view.words.task.setPlainText("Three beds have 12, 7 and 9 shoots: 28 in all.")
    making.put(hints=("Which bed is added first?",))

    for line in ("12", "7", "9"):
        with qtbot.waitSignal(window.models.run.asked, timeout=30_000):
            window.models.run.answer(line)
    ended(window, qtbot, lambda: window.models.run.answer(""))
    view.cases.keep.click()
    monkeypatch.setattr(
        CaseDialog, "exec", lambda form: form.call.setText("total([5])") or form.name.setText("one bed") or 1
    )
    view.cases.new.click()
    tried(window, qtbot, view.cases.results.click)
    cases = on_disk(window, tmp_path / "reef_shoots").cases
    assert [(case.name, case.input, case.output, case.result) for case in cases] == [
        ("case 1", ("12", "7", "9", ""), "shoots: shoots: shoots: shoots: in all: 28\n", None),
        ("one bed", (), None, "5"),
    ]

    window.commands.toggle_editing()
    window.source.editor.setText(WRONG)
    window.source.set_editing(False)
    ended(window, qtbot, window.commands.run_again)
    assert making.sealed.lines == (3,), "what differs from the model is marked"
    assert window.source.gutter.faulty == {3}
    view.error.reason.setPlainText("The range begins at 1: the first bed is left out.")
    recording = window.models.parts.session.recording
    assert recording is not None
    window.models.parts.session.go(int(recording.visits.of_line(0, 3)[0]))
    view.plan.ask.setCurrentIndex(2)
    view.plan.add_point.click()
    window.models.parts.session.go(int(recording.visits.of_line(0, 4)[1]))
    view.plan.add_stop.click()
    view.plan.say.setPlainText("Which bed is this?")
    view.plan.add_passes.click()
    assert window.source.gutter.planned == {3: "?", 4: "=1"}
    assert "A table is to be filled in by hand here.\nStop 1 of the route is here." in window.source.gutter.words(4)
    assert "said first" in window.source.gutter.words(3)
    steps = [int(recording.visits.of_line(0, 3)[0]), int(recording.visits.of_line(0, 4)[1])]
    assert window.timeline._planned == [(steps[0], "?"), (steps[1], "1")]
    tried(window, qtbot, view.cases.try_all.click)
    assert (missing(window), view.head.text()) == ([], "Nothing is missing.")
    shown = view.cases.list.item(0)
    assert shown is not None
    assert "program ✗ failed   model ✓ passed" in shown.text()
    assert on_disk(window, tmp_path / "reef_shoots") == making.exercise, "all is written at once"

    ended(window, qtbot, lambda: view.error.run_model.click())
    assert "the model" in window.top_bar._place.text()
    assert window.source.gutter.faulty == {3}
    assert not window.actions_by_id["edit"].isEnabled()
    ended(window, qtbot, lambda: view.error.run_model.click())
    ended(window, qtbot, view.error.exchange.click)
    assert (made_text(making.exercise), making.model) == (RIGHT, WRONG)
    ended(window, qtbot, view.error.exchange.click)
    assert (made_text(making.exercise), making.model, making.sealed.lines) == (WRONG, RIGHT, (3,))

    chosen[0] = str(tmp_path / "week2.eelx")
    view.hand_out.click()
    assert "ready to be handed out" in window.notice_bar.text()
    window.models.solving.use_hint()
    with qtbot.waitSignal(window.models.run.asked, timeout=30_000):
        view.walk.click()
    assert (window.models.authoring.exercise, window.models.solving.answer.hints_used) == (None, 0)
    assert "Three beds" in window.view(SolvingView).task.toPlainText()
    _walk_as_a_student(window, qtbot)

    student = MainWindow()
    qtbot.addWidget(student)
    student.models.workspace.open(tmp_path / "week2.eelx")
    assert student.models.parts.session.recording is None
    exercise = student.models.workspace.exercise
    assert exercise is not None
    assert (exercise.title, exercise.model, exercise.stops[0].say) == (
        "Shoots at the reef",
        RIGHT,
        "Which bed is this?",
    )


def made_text(exercise: Exercise | None) -> str:
    return exercise.program.read_text() if exercise is not None else ""


def _walk_as_a_student(window: MainWindow, qtbot: QtBot) -> None:
    """The route runs the case that its stop is of; the table is filled in; what the instructor asks is asked."""
    with qtbot.waitSignal(window.models.navigator.arrived, timeout=30_000):
        window.actions_by_id["route"].trigger()
    recording = window.models.parts.session.recording
    assert recording is not None
    assert window.models.launch.case.name == "case 1"
    assert window.models.parts.session.step == int(recording.visits.of_line(0, 4)[1])
    assert window.route_view.say.toPlainText() == "Which bed is this?"
    qtbot.keyClick(window, Qt.Key.Key_PageDown)
    assert window.models.route.place == 0, "the route stays at its end"
    window.models.route.set_on(False)
    assert window.statement.isVisible()
    check = window.view(SolvingView).cases.item(2)
    assert check is not None
    window.view(SolvingView).cases.itemClicked.emit(check)
    assert window.tabs.currentWidget() is window.view(TableView)
    assert window.view(TableView).model.filled == {}
    titles = (
        [column.title for column in window.view(TableView).model.table.columns]
        if window.view(TableView).model.table
        else []
    )
    window.view(TableView).model.setData(
        window.view(TableView).model.index(0, titles.index("shoots")), "7", Qt.ItemDataRole.EditRole
    )
    window.view(TableView).check()
    assert window.models.solving.answer.desk_checks["passes of line 3 in total"][0] == 1
    window.models.parts.session.move("first")
    window.commands.toggle_predict()
    window.actions_by_id["last"].trigger()
    pending = window.models.prediction.pending
    assert pending is not None
    assert (pending.kind, pending.expected, recording.trace.line_of(window.models.parts.session.step)) == (
        "passes",
        "2",
        3,
    )
    window.models.prediction.answer("3")
    window.actions_by_id["last"].trigger()
    assert window.models.parts.session.step == recording.stepping.last(), "nothing else is asked than what was planned"
    window.commands.toggle_predict()


def test_a_line_that_runs_next_is_said_by_a_click(window: MainWindow, qtbot: QtBot) -> None:
    ended(window, qtbot, lambda: window.models.workspace.open_exercise(window.lesson.exercise("berth_plan")))
    ended(window, qtbot, lambda: window.models.launch.choose_case(window.models.launch.all_cases[0]))
    window.commands.toggle_predict()
    asked = []
    while window.models.prediction.pending is None or window.models.prediction.pending.kind != "line":
        if asked == ["passes", "way"]:
            window.prediction_view.false.click()
            assert window.prediction_view.told.text().startswith("Yes. It is false, from ")
        window.models.prediction.pass_over()
        window.actions_by_id["last"].trigger()
        asked.append(window.models.prediction.pending.kind if window.models.prediction.pending else "")
    assert asked == ["passes", "way", "line"]
    step = window.models.parts.session.step
    window.source.gutter.clicked.emit(13)
    assert (window.models.prediction.is_right, window.models.parts.session.step) == (True, step)
    assert window.models.solving.answer.predictions[-1].said == "13"
    window.source.gutter.clicked.emit(10)
    assert window.models.solving.answer.predictions[-1].said == "13", "a click leads to a visit again"


def test_a_demo_exercise_is_changed_in_a_copy_of_its_own(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    ended(window, qtbot, lambda: window.models.workspace.open_exercise(window.lesson.exercise("shoot_count")))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "mine"), ""))
    ended(window, qtbot, window.commands.ask_make)
    plan = window.view(AuthoringView).plan
    plan.stops.setCurrentRow(0)
    plan.stops.take_away()
    window.models.authoring.put_case(Case("all beds", output="beds: 4\nshoots: 43\n"), 0)
    mine = on_disk(window, tmp_path / "mine")
    assert len(mine.stops) == len(window.lesson.exercise("shoot_count").stops) - 1
    assert {place.case for place in (*mine.stops, *mine.points, *mine.desk_checks)} == {"all beds"}, (
        "under its new name"
    )
    assert mine.model is not None
    window.source.set_editing(True)
    window.source.editor.setText("# low tide\n" + mine.program.read_text())
    ended(window, qtbot, window.commands.run_again)
    assert [place.line for place in on_disk(window, tmp_path / "mine").stops] == [9, 9, 10]
    assert on_disk(window, tmp_path / "mine").sealed.lines == (8,)  # type: ignore[union-attr]
    window.commands.next_look()  # which builds the views anew
    tried(window, qtbot, window.commands.run_cases)
    assert missing(window) == []
    window.models.authoring.start(tmp_path / "mine")
    assert "is not empty" in window.notice_bar.text()


def test_a_case_is_asked_for_until_it_makes_sense(window: MainWindow) -> None:
    form = CaseDialog(window, Case("two", ("--low",), ("3", ""), output="7"), {"one"}, window.models.look)
    assert form.made() == Case("two", ("--low",), ("3", ""), output="7")
    for name, call, result, claims, why in (
        ("", "", "", "", "has no name"),
        ("one", "", "", "", "called “one” already"),
        ("a", "total([", "", "", "is no call"),
        ("a", "total([])", "seven", "", "is no value"),
        ("a", "total([])", "7", "shoots >", "is no expression"),
        ("a", "total([])", "7", "shoots > 0", ""),
    ):
        form.name.setText(name)
        form.call.setText(call)
        form.gives.setText(result)
        form.claims.setPlainText(claims)
        form._accept()
        assert why in form.said.text()
    assert form.made() == Case("a", input=("3", ""), call="total([])", result="7", claims=("shoots > 0",))


def test_what_was_handed_out_sealed_is_opened_only_when_that_is_meant(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    exercises.pack(window.lesson.exercise("shoot_count"), tmp_path / "beds.eelx")
    window.models.workspace.open(tmp_path / "beds.eelx")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "mine"), ""))
    monkeypatch.setattr(QMessageBox, "question", lambda *_: QMessageBox.StandardButton.No)
    window.commands.ask_make()
    assert not window.models.workspace.makes
    monkeypatch.setattr(QMessageBox, "question", lambda *_: QMessageBox.StandardButton.Yes)
    ended(window, qtbot, window.commands.ask_make)
    assert window.models.authoring.sealed.lines == (7,)
    window.models.authoring.put(task="Why?")
    assert on_disk(window, tmp_path / "mine").sealed == window.models.authoring.sealed
    assert (tmp_path / "mine" / "sealed" / "shoot_count.py").exists()
    assert not (tmp_path / "mine" / exercises.SEALED_FILE).exists()


def test_results_do_not_undo_what_was_changed_meanwhile(window: MainWindow, qtbot: QtBot, made: Exercise) -> None:
    with qtbot.waitSignal(window.models.run.asked, timeout=30_000):
        window.models.workspace.open_exercise(made, makes=True)
    first, second = Case("first", input=("1", "")), Case("second", call="total([2])")
    window.models.authoring.put(cases=(first, second))
    window.models.authoring.results_from_model()
    window.models.authoring.put_case(replace_case(first, claims=("counts",)), 0)
    with qtbot.waitSignal(window.models.authoring.ended, timeout=60_000):
        pass
    exercise = window.models.authoring.exercise
    assert exercise is not None
    assert exercise.cases == (replace_case(first, claims=("counts",)), replace_case(second, result="2"))
    tried(window, qtbot, window.models.authoring.try_all)
    assert window.models.authoring.found.given["second"].is_passed
    window.models.authoring.put_case(first, 0)
    assert not window.models.authoring.found.given, "what came of the runs was of other cases"
