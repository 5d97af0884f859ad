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

from eelgrass.desktop.window.main_window import Window
from eelgrass.lessons import answer as answers
from eelgrass.lessons import exercise as exercises
from eelgrass.lessons.case import Case
from eelgrass.lessons.demo_lesson import demo_lesson
from eelgrass.reading.breakpoints.breakpoint import Breakpoint

NAMES = [its.folder.name for its in demo_lesson().exercises]


def opened(window: Window, qtbot: QtBot, name: str) -> None:
    with qtbot.waitSignal(window.desk.changed, timeout=30_000):
        window.desk.open_exercise(window.lesson.exercise(name))


def exercise_case(window: Window, name: str) -> Case:
    return next(its for its in window.desk.all_cases if its.name == name)


def verdicts(window: Window, qtbot: QtBot) -> list[bool]:
    with qtbot.waitSignal(window.finding.judged, timeout=60_000):
        window.exercise.run.click()
    return [result.is_passed for result in window.finding.results.values()]


@pytest.mark.parametrize("name", NAMES)
def test_each_exercise_is_solved_through_the_window(window: Window, qtbot: QtBot, tmp_path: Path, name: str) -> None:
    opened(window, qtbot, name)
    exercise = window.desk.exercise
    assert exercise is not None
    assert exercise.sealed is not None
    window.commands.show_exercise()
    assert not all(verdicts(window, qtbot)), "it fails"
    failed = next(row for row, its in enumerate(window.finding.results.values()) if not its.is_passed)
    item = window.exercise.cases.item(failed)
    assert item is not None
    assert item.text().startswith("✗ ")
    with qtbot.waitSignal(window.desk.runner.ended, timeout=30_000):
        window.exercise.cases.itemClicked.emit(item)
    window.exercise.hint.click()
    assert exercise.hints[0].split("`")[0][:20] in window.exercise.task.toPlainText()
    recording = window.reader.recording
    assert recording is not None
    line = next(its for its in exercise.sealed.lines if len(recording.visits.of_line(0, its)))
    window.reader.go(int(recording.visits.of_line(0, line)[0]))
    window.exercise.mark.click()
    window.exercise.attach.click()
    window.exercise.reason.setPlainText("It is wrong here.")
    with qtbot.waitSignal(window.desk.runner.ended, timeout=30_000):
        window.desk.choose_case(exercise.cases[0])
    window.commands.toggle_editing()
    window.text.editor.setText(exercise.sealed.model[exercise.program.name])
    assert all(verdicts(window, qtbot)), "it is mended"
    assert any(window.finding.has_changed(case.name) for case in exercise.cases)
    with qtbot.waitSignal(window.desk.runner.ended, timeout=30_000):
        window.commands.run_again()
    assert "wrong" not in window.notice.text()
    path = tmp_path / f"mine{answers.SUFFIX}"
    assert "The answer is in" in window.finding.save(path)
    kept = answers.load(path)
    assert (kept.lines, kept.reason, kept.hints_used, len(kept.evidence)) == ((line,), "It is wrong here.", 1, 1)
    assert {verdict for verdict, _ in kept.results.values()} == {"passed"}
    assert kept.program == exercise.sealed.model[exercise.program.name]
    instructor = Window()
    qtbot.addWidget(instructor)
    instructor.commands.open(path)
    assert "Open the exercise first" in instructor.notice.text()
    opened(instructor, qtbot, name)
    assert instructor.finding.open(path) == ""
    shown = instructor.exercise.task.toPlainText()
    assert "It is wrong here." in shown
    assert exercise.sealed.reason.replace("`", "")[:20] in shown
    instructor.exercise.reason.setPlainText("Well found.")
    instructor.desk.writer.flush()
    assert answers.load(path).comment == "Well found."
    instructor.desk.runner.stop()


def test_a_line_is_marked_as_it_was_given_whatever_was_written_since(window: Window, qtbot: QtBot) -> None:
    opened(window, qtbot, "shoot_count")
    window.finding.toggle_line(7)
    given = window.finding.answer.given
    window.desk.write("# counted at low tide\n" + given)
    window.finding.toggle_line(9)
    assert window.finding.answer.lines == (7, 8)
    assert window.finding.answer.statements == ("for bed in range(1, len(counts)):", "total = total + counts[bed]")
    window.finding.toggle_line(1)
    assert window.finding.answer.lines == (7, 8), "a new line is none of the given ones"


def test_a_call_is_a_case_like_any_other(window: Window, qtbot: QtBot) -> None:
    opened(window, qtbot, "berth_plan")
    with qtbot.waitSignal(window.desk.runner.ended, timeout=30_000):
        window.desk.choose_case(exercise_case(window, "Kittiwake"))
    recording = window.reader.recording
    assert recording is not None
    assert recording.trace.program.modules[0].source.endswith('answer = berth_for("Kittiwake", [4, 9])\n')
    assert len(recording.calls.of_function(1)) == 1
    assert not window.actions_by_id["edit"].isEnabled()
    file = window.desk.text_file
    window.reader.set_breakpoints([Breakpoint(file, 13)])
    assert window.reader.hits[0].steps.tolist() == recording.visits.of_line(0, 13).tolist() != []
    with qtbot.waitSignal(window.desk.runner.ended, timeout=30_000):
        window.desk.choose_case(exercise_case(window, "all boats"))
    assert (window.reader.breakpoints[0].line, window.reader.is_stale) == (13, False)
    assert len(window.reader.hits[0].steps) > 1


def test_a_call_typed_in_finds_the_data_files_and_is_kept_as_a_case(window: Window, qtbot: QtBot) -> None:
    opened(window, qtbot, "gauge_report")
    with qtbot.waitSignal(window.desk.runner.ended, timeout=30_000):
        window.desk.choose_case(Case("", call='len(load("gauges.txt"))'))
    assert window.reader.recording is not None
    assert window.reader.recording.trace.outcome.outcome == "finished"
    window.desk.keep_case("gauges")
    assert [(case.name, case.call) for case in window.desk.cases] == [("gauges", 'len(load("gauges.txt"))')]


def test_what_is_to_be_said_first_is_told_neither_by_cases_nor_by_the_run(window: Window, qtbot: QtBot) -> None:
    opened(window, qtbot, "seahorse_tally")
    verdicts(window, qtbot)
    item = window.exercise.cases.item(0)
    assert item is not None
    assert "KeyError" in item.text()
    window.commands.toggle_predict()
    with qtbot.waitSignal(window.desk.runner.ended, timeout=30_000):
        window.desk.choose_case(exercise_case(window, "one place"))
    item = window.exercise.cases.item(0)
    assert item is not None
    assert item.text() == "✗ four sightings: failed"
    assert not window.notice.isVisible()


def test_a_packed_exercise_opens_and_keeps_what_was_done(window: Window, qtbot: QtBot, tmp_path: Path) -> None:
    path = tmp_path / "tides.eelx"
    exercises.pack(window.lesson.exercise("high_tide"), path)
    for _ in range(2):
        with qtbot.waitSignal(window.desk.changed, timeout=30_000):
            window.desk.open(path)
        assert (window.desk.runner.is_running, window.reader.recording) == (False, None), "nothing runs on opening"
        assert "levels.append(answer)" in window.text.editor.text()
        window.commands.show_exercise()
        assert "The highest tide" in window.exercise.task.toPlainText()
    given = window.desk.text
    window.desk.write("# mine\n" + given)
    with qtbot.waitSignal(window.desk.asked, timeout=30_000):
        window.commands.run_again()
    work = window.desk.program
    assert work is not None
    assert work.is_relative_to(tmp_path / "documents" / "Eelgrass")
    assert (work.read_text(), window.desk.given) == ("# mine\n" + given, given), "what was handed out is as it was"
    window.desk.open(path)
    assert window.desk.text == "# mine\n" + given
    window.commands.begin_again()
    assert (window.desk.text, work.with_stem("high_tide 2").read_text()) == (given, "# mine\n" + given)
    assert "what you had written is in high_tide 2.py" in window.notice.text()
    exercises.pack(replace(window.lesson.exercise("shoot_count"), title="Week 2"), path)
    window.desk.open(path)
    assert window.desk.exercise is not None
    assert window.desk.exercise.program.name == "shoot_count.py", "another exercise under the same name"
    path.write_bytes(b"damaged")
    other = tmp_path / "reef.eelx"
    other.write_bytes(b"damaged")
    window.desk.open(other)
    assert "is no exercise, or it is damaged" in window.notice.text()


_STUDENT = """
import os, sys
from PyQt6.QtCore import QTimer
from eelgrass.desktop.app import application
from eelgrass.desktop.window.main_window import Window
app = application()
window = Window()
window.desk.open_exercise(window.lesson.exercise("shoot_count"))
window.exercise.reason.setPlainText("the first bed")
window.finding.toggle_line(7)
window.finding.use_hint()
window.desk.write("# half a line of tex")
window.desk.writer.flush()
print("written", flush=True)
app.exec()
"""


def test_nothing_typed_is_lost_when_the_process_is_killed(window: Window, qtbot: QtBot) -> None:
    student = subprocess.Popen(
        [sys.executable, "-c", _STUDENT], stdout=subprocess.PIPE, env=dict(os.environ), text=True
    )
    assert student.stdout is not None
    assert student.stdout.readline() == "written\n"
    student.send_signal(signal.SIGKILL)
    student.wait()
    student.stdout.close()
    opened(window, qtbot, "shoot_count")
    answer = window.finding.answer
    assert (answer.reason, answer.lines, answer.hints_used) == ("the first bed", (7,), 1)
    assert window.desk.text == "# half a line of tex"


def test_pictures_and_table_layouts_come_back_with_their_program(window: Window, qtbot: QtBot, tmp_path: Path) -> None:
    program = tmp_path / "beds.py"
    program.write_text("beds = [3, 1]\nfor bed in beds:\n    total = bed\n")
    with qtbot.waitSignal(window.desk.runner.ended, timeout=30_000):
        window.desk.open(program)
    window.pictures.keep("beds")
    window.commands.show_table()
    window.table.line.setText("bed * 2")
    window.table._add()
    window.table.show_column(1, on=False)
    window.table.titles.moveSection(window.table.titles.visualIndex(2), 0)
    shown = [column.title for column in window.table.shown_columns()]
    window.close()
    again = Window()
    qtbot.addWidget(again)
    again.show()
    with qtbot.waitSignal(again.desk.runner.ended, timeout=30_000):
        again.desk.open(program)
    again.commands.show_table()
    qtbot.waitUntil(lambda: again.table.model.table is not None)
    assert [column.title for column in again.table.shown_columns()] == shown
    assert "bed * 2" in shown
    assert again.reader.pictures == ["beds"]
