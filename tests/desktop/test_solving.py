"""Every exercise of the demo lesson, solved through the window as a student would; and nothing written is lost."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
from dataclasses import replace
from pathlib import Path

import pytest
from pytestqt.qtbot import QtBot
from support.desk_programs import skip_without_tk
from support.driving import ended

from eelgrass.desktop.exercise.solving_view import SolvingView
from eelgrass.desktop.tabs.trace_table.table_view import TableView
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.lessons.answering import answer as answers
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.demo_lesson import demo_lesson
from eelgrass.lessons.exercises import exercise as exercises
from eelgrass.reading.breakpoints.breakpoint import Breakpoint
from eelgrass.trace.program import Place

NAMES = [its.folder.name for its in demo_lesson().exercises]


def opened(window: MainWindow, qtbot: QtBot, name: str) -> None:
    with qtbot.waitSignal(window.models.workspace.changed, timeout=30_000):
        window.models.workspace.open_exercise(window.lesson.exercise(name))


def exercise_case(window: MainWindow, name: str) -> Case:
    return next(its for its in window.models.launch.all_cases if its.name == name)


def verdicts(window: MainWindow, qtbot: QtBot) -> list[bool]:
    with qtbot.waitSignal(window.models.solving.judged, timeout=60_000):
        window.view(SolvingView).run.click()
    return [result.is_passed for result in window.models.solving.results.values()]


@pytest.mark.parametrize("name", NAMES)
def test_each_exercise_is_solved_through_the_window(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, name: str
) -> None:
    skip_without_tk(window.lesson.exercise(name).program)
    opened(window, qtbot, name)
    exercise = window.models.workspace.exercise
    assert exercise is not None
    assert exercise.sealed is not None
    window.commands.show_exercise()
    assert not all(verdicts(window, qtbot)), "it fails"
    failed = next(row for row, its in enumerate(window.models.solving.results.values()) if not its.is_passed)
    item = window.view(SolvingView).cases.item(failed)
    assert item is not None
    assert item.text().startswith("✗ ")
    ended(window, qtbot, lambda: window.view(SolvingView).cases.itemClicked.emit(item))
    window.view(SolvingView).hint.click()
    assert exercise.hints[0].split("`")[0][:20] in window.view(SolvingView).task.toPlainText()
    recording = window.models.parts.session.recording
    assert recording is not None
    line = next(its for its in exercise.sealed.lines if len(recording.visits.of_line(0, its)))
    window.models.parts.session.go(int(recording.visits.of_line(0, line)[0]))
    window.view(SolvingView).mark.click()
    window.view(SolvingView).attach.click()
    window.view(SolvingView).reason.setPlainText("It is wrong here.")
    ended(window, qtbot, lambda: window.models.launch.choose_case(exercise.cases[0]))
    window.commands.toggle_editing()
    window.source.editor.setText(exercise.sealed.model[exercise.program.name])
    assert all(verdicts(window, qtbot)), "it is mended"
    assert any(window.models.solving.has_changed(case.name) for case in exercise.cases)
    ended(window, qtbot, lambda: window.commands.run_again())
    assert "wrong" not in window.notice_bar.text()
    path = tmp_path / f"mine{answers.SUFFIX}"
    window.models.solving.save(path)
    assert "The answer is in" in window.notice_bar.text()
    kept = answers.load(path)
    assert (kept.lines, kept.reason, kept.hints_used, len(kept.evidence)) == ((line,), "It is wrong here.", 1, 1)
    assert {verdict for verdict, _ in kept.results.values()} == {"passed"}
    assert kept.program == exercise.sealed.model[exercise.program.name]
    window.close()
    instructor = MainWindow()
    qtbot.addWidget(instructor)
    instructor.commands.open(path)
    assert "Open the exercise first" in instructor.notice_bar.text()
    opened(instructor, qtbot, name)
    instructor.models.messages.say("")
    instructor.models.solving.open(path)
    assert instructor.notice_bar.text() == ""
    shown = instructor.view(SolvingView).task.toPlainText()
    assert "It is wrong here." in shown
    assert exercise.sealed.reason.replace("`", "")[:20] in shown
    instructor.view(SolvingView).reason.setPlainText("Well found.")
    instructor.models.writer.flush()
    assert answers.load(path).comment == "Well found."
    instructor.models.run.runner.stop()


def test_a_line_is_marked_as_it_was_given_whatever_was_written_since(window: MainWindow, qtbot: QtBot) -> None:
    opened(window, qtbot, "shoot_count")
    window.models.solving.toggle_line(Place(window.models.workspace.text_file, 7))
    given = window.models.solving.answer.given
    window.models.workspace.edit("", "# counted at low tide\n" + given, window.models.workspace.text)
    window.models.solving.toggle_line(Place(window.models.workspace.text_file, 9))
    assert window.models.solving.answer.lines == (7, 8)
    assert window.models.solving.answer.statements == (
        "for bed in range(1, len(counts)):",
        "total = total + counts[bed]",
    )
    window.models.solving.toggle_line(Place(window.models.workspace.text_file, 1))
    assert window.models.solving.answer.lines == (7, 8), "a new line is none of the given ones"


def test_a_call_is_a_case_like_any_other(window: MainWindow, qtbot: QtBot) -> None:
    opened(window, qtbot, "berth_plan")
    ended(window, qtbot, lambda: window.models.launch.choose_case(exercise_case(window, "Kittiwake")))
    recording = window.models.parts.session.recording
    assert recording is not None
    assert recording.trace.program.modules[0].source.endswith('answer = berth_for("Kittiwake", [4, 9])\n')
    assert len(recording.calls.of_function(1)) == 1
    assert not window.actions_by_id["edit"].isEnabled()
    file = window.models.workspace.text_file
    window.models.parts.breakpoints.set_breakpoints([Breakpoint(file, 13)])
    assert window.models.parts.breakpoints.hits[0].steps.tolist() == recording.visits.of_line(0, 13).tolist() != []
    ended(window, qtbot, lambda: window.models.launch.choose_case(exercise_case(window, "all boats")))
    assert (
        window.models.parts.breakpoints.breakpoints[0].line,
        window.models.parts.texts.are_newer_than(recording),
    ) == (13, False)
    assert len(window.models.parts.breakpoints.hits[0].steps) > 1


def test_a_call_typed_in_finds_the_data_files_and_is_kept_as_a_case(window: MainWindow, qtbot: QtBot) -> None:
    opened(window, qtbot, "gauge_report")
    ended(window, qtbot, lambda: window.models.launch.choose_case(Case("", call='len(load("gauges.txt"))')))
    assert window.models.parts.session.recording is not None
    assert window.models.parts.session.recording.trace.outcome.outcome == "finished"
    window.models.launch.keep_case("gauges")
    assert [(case.name, case.call) for case in window.models.launch.cases] == [("gauges", 'len(load("gauges.txt"))')]


def test_what_is_to_be_said_first_is_told_neither_by_cases_nor_by_the_run(window: MainWindow, qtbot: QtBot) -> None:
    opened(window, qtbot, "seahorse_tally")
    verdicts(window, qtbot)
    item = window.view(SolvingView).cases.item(0)
    assert item is not None
    assert "KeyError" in item.text()
    window.commands.toggle_predict()
    ended(window, qtbot, lambda: window.models.launch.choose_case(exercise_case(window, "one place")))
    item = window.view(SolvingView).cases.item(0)
    assert item is not None
    assert item.text() == "✗ four sightings: failed"
    assert not window.notice_bar.isVisible()


def test_a_packed_exercise_opens_and_keeps_what_was_done(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    path = tmp_path / "tides.eelx"
    exercises.pack(window.lesson.exercise("high_tide"), path)
    for _ in range(2):
        with qtbot.waitSignal(window.models.workspace.changed, timeout=30_000):
            window.models.workspace.open(path)
        assert (window.models.run.runner.is_running, window.models.parts.session.recording) == (False, None), (
            "nothing runs on opening"
        )
        assert "levels.append(answer)" in window.source.editor.text()
        window.commands.show_exercise()
        assert "The highest tide" in window.view(SolvingView).task.toPlainText()
    given = window.models.workspace.text
    window.models.workspace.edit("", "# mine\n" + given, window.models.workspace.text)
    with qtbot.waitSignal(window.models.run.asked, timeout=30_000):
        window.commands.run_again()
    work = window.models.workspace.program
    assert work is not None
    assert work.is_relative_to(tmp_path / "documents" / "Eelgrass")
    assert (work.read_text(), window.models.workspace.given) == ("# mine\n" + given, given), (
        "what was handed out is as it was"
    )
    window.models.workspace.open(path)
    assert window.models.workspace.text == "# mine\n" + given
    window.commands.begin_again()
    assert (window.models.workspace.text, work.with_stem("high_tide 2").read_text()) == (given, "# mine\n" + given)
    assert "what you had written is in high_tide 2.py" in window.notice_bar.text()
    exercises.pack(replace(window.lesson.exercise("shoot_count"), title="Week 2"), path)
    window.models.workspace.open(path)
    assert window.models.workspace.exercise is not None
    assert window.models.workspace.exercise.program.name == "shoot_count.py", "another exercise under the same name"
    path.write_bytes(b"damaged")
    other = tmp_path / "reef.eelx"
    other.write_bytes(b"damaged")
    window.models.workspace.open(other)
    assert "is no exercise, or it is damaged" in window.notice_bar.text()


_STUDENT = """
import os, sys
from PyQt6.QtCore import QTimer
from eelgrass.desktop.app import application
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.trace.program import Place
from eelgrass.desktop.exercise.solving_view import SolvingView
app = application()
window = MainWindow()
window.models.workspace.open_exercise(window.lesson.exercise("shoot_count"))
window.view(SolvingView).reason.setPlainText("the first bed")
window.models.solving.toggle_line(Place(window.models.workspace.text_file, 7))
window.models.solving.use_hint()
window.models.workspace.edit("", "# half a line of tex", window.models.workspace.text)
window.models.writer.flush()
print("written", flush=True)
app.exec()
"""


def test_nothing_typed_is_lost_when_the_process_is_killed(window: MainWindow, qtbot: QtBot) -> None:
    student = subprocess.Popen(
        [sys.executable, "-c", _STUDENT], stdout=subprocess.PIPE, env=dict(os.environ), text=True
    )
    assert student.stdout is not None
    assert student.stdout.readline() == "written\n"
    student.send_signal(signal.SIGKILL)
    student.wait()
    student.stdout.close()
    opened(window, qtbot, "shoot_count")
    answer = window.models.solving.answer
    assert (answer.reason, answer.lines, answer.hints_used) == ("the first bed", (7,), 1)
    assert window.models.workspace.text == "# half a line of tex"


def test_pictures_and_table_layouts_come_back_with_their_program(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    program = tmp_path / "beds.py"
    program.write_text("beds = [3, 1]\nfor bed in beds:\n    total = bed\n")
    ended(window, qtbot, lambda: window.models.workspace.open(program))
    window.models.parts.options.keep_picture("beds")
    window.commands.show_table()
    window.view(TableView).line.setText("bed * 2")
    window.view(TableView)._add()
    window.view(TableView).show_column(1, on=False)
    window.view(TableView).titles.moveSection(window.view(TableView).titles.visualIndex(2), 0)
    shown = [column.title for column in window.view(TableView).view.shown_columns()]
    window.close()
    again = MainWindow()
    qtbot.addWidget(again)
    again.show()
    ended(again, qtbot, lambda: again.models.workspace.open(program))
    again.commands.show_table()
    qtbot.waitUntil(lambda: again.view(TableView).model.table is not None)
    assert [column.title for column in again.view(TableView).view.shown_columns()] == shown
    assert "bed * 2" in shown
    assert again.models.parts.options.pictures == ["beds"]
