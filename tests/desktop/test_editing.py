"""Writing in the text: the recording stays on view, the new text runs by one key, and nothing is lost."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot
from support.driving import ended, opened, type_at

from eelgrass.desktop.source.diagnostics_view import DiagnosticsView
from eelgrass.desktop.tabs.output_view import OutputView
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.desktop.workspace import session_file
from eelgrass.lessons.cases.case import USUAL

LEVELS = "total = 0\nfor level in [2, 4, 9]:\n    total = total + level\nprint(total)\n"


def test_an_edited_text_keeps_its_recording_until_it_is_run_and_then_the_place(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    program = opened(window, qtbot, tmp_path / "levels.py", LEVELS)
    recording = window.models.parts.session.recording
    assert recording is not None
    window.models.parts.session.go(int(recording.visits.of_line(0, 3)[1]))
    qtbot.keyClick(window, Qt.Key.Key_E)
    type_at(window, qtbot, 1, 0, "start = 1")
    qtbot.keyClick(window.source.editor, Qt.Key.Key_Return)
    assert window.models.parts.session.recording is recording, "it stays on view"
    assert window.models.parts.texts.are_newer_than(recording)
    assert "older text" in window.top_bar._place.text()
    assert window.source.gutter.line == 4, "the waterline goes with its line"
    assert window.source.gutter.counts[4].in_all == 3
    note = window.source.note(4)
    assert note is not None
    assert note.text == "last time: total ← 2"
    assert program.read_text() == LEVELS, "nothing is written before it is run or saved"
    qtbot.keyClick(window.source.editor, Qt.Key.Key_Escape)
    ended(window, qtbot, lambda: qtbot.keyClick(window, Qt.Key.Key_R, Qt.KeyboardModifier.ControlModifier))
    assert program.read_text() == "start = 1\n" + LEVELS
    assert not window.models.parts.texts.are_newer_than(window.models.parts.session.recording)
    now = window.models.parts.session.recording
    assert now is not None
    assert now is not recording
    assert window.models.parts.session.step == int(now.visits.of_line(0, 4)[1]), "the same visit of the same line"


def test_letters_are_letters_while_writing(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "levels.py", LEVELS)
    step = window.models.parts.session.step
    qtbot.keyClick(window, Qt.Key.Key_E)
    type_at(window, qtbot, 4, 0, "web = 'x l'  ")
    assert "web = 'x l'  print(total)" in window.source.editor.text()
    assert (window.models.parts.session.step, window.models.parts.breakpoints.bookmarks) == (step, [])
    qtbot.keyClick(window.source.editor, Qt.Key.Key_Escape)
    qtbot.keyClick(window, Qt.Key.Key_B)
    assert window.models.parts.breakpoints.bookmarks == [step]


def test_errors_are_underlined_listed_and_lead_to_their_place(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "levels.py", LEVELS)
    qtbot.keyClick(window, Qt.Key.Key_E)
    with qtbot.waitSignal(window._diagnosing._pause.timeout, timeout=10_000):
        type_at(window, qtbot, 2, 21, "(")
    listed = window.view(DiagnosticsView).item(0)
    assert listed is not None
    assert listed.text().startswith("line 2: ")
    assert window.tabs.currentWidget() is window.view(DiagnosticsView)
    editor = window.source.editor
    marked = [editor.SendScintilla(editor.SCI_INDICATORVALUEAT, 9, place) for place in range(len(editor.text()))]
    assert any(marked)
    window.models.parts.session.move("first")
    note = window.source.note(2)
    assert note is not None
    assert (note.trouble, note.whole) == (True, listed.text().partition(": ")[2]), "and in the margin"
    editor.setCursorPosition(0, 0)
    window.view(DiagnosticsView).itemClicked.emit(listed)
    assert editor.getCursorPosition()[0] == 1
    qtbot.keyClick(editor, Qt.Key.Key_Escape)
    window.actions_by_id["run"].trigger()
    assert "does not close the bracket" in window.notice_bar.text()
    assert window.models.parts.session.recording is not None, "the recording of the text before stays"


def test_a_draft_survives_a_crash_and_what_comes_with_eelgrass_is_copied(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: object
) -> None:
    program = opened(window, qtbot, tmp_path / "levels.py", LEVELS)
    qtbot.keyClick(window, Qt.Key.Key_E)
    type_at(window, qtbot, 1, 0, "#")
    window.models.writer.flush()
    window.models.claims.release_all()  # as the system does when a process ends
    after_the_crash = MainWindow()
    qtbot.addWidget(after_the_crash)
    ended(after_the_crash, qtbot, lambda: after_the_crash.models.workspace.open(program))
    assert after_the_crash.source.editor.text() == "#" + LEVELS
    after_the_crash.models.workspace.save_texts()
    assert program.read_text() == "#" + LEVELS
    after_the_crash.models.writer.flush()
    assert session_file.load_drafts(program, after_the_crash.models.writer) == ([], "")
    lesson = after_the_crash.lesson.exercise("gauge_report")
    original = lesson.program.read_text()
    monkeypatch.setattr("platformdirs.user_documents_dir", lambda: str(tmp_path / "documents"))  # type: ignore[attr-defined]
    ended(after_the_crash, qtbot, lambda: after_the_crash.models.workspace.open_exercise(lesson))
    after_the_crash.models.workspace.edit("", "# mine\n" + original, original)
    after_the_crash.models.workspace.save_texts()
    assert lesson.program.read_text() == original
    after_the_crash.models.writer.flush()
    assert session_file.load_drafts(lesson.program, after_the_crash.models.writer) == ([], "")
    copy = tmp_path / "documents" / "Eelgrass" / "gauge_report" / "gauge_report.py"
    assert copy.read_text() == "# mine\n" + original
    assert (copy.parent / "gauges.txt").exists()


def test_a_text_that_cannot_be_saved_is_not_lost(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: object
) -> None:
    opened(window, qtbot, tmp_path / "levels.py", LEVELS)
    qtbot.keyClick(window, Qt.Key.Key_E)
    type_at(window, qtbot, 1, 0, "#")

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("eelgrass.desktop.workspace.text_files.replace_file", full)  # type: ignore[attr-defined]
    window.actions_by_id["run"].trigger()
    assert "could not be saved: No space left" in window.notice_bar.text()
    assert window.source.editor.text() == "#" + LEVELS


def test_cases_are_kept_chosen_and_taken_away(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    program = tmp_path / "ferry.py"
    program.write_text(
        "import sys, textwrap\nsize = input('People? ')\nprint(sys.argv[1:], size, textwrap.dedent(' x'))\n"
    )
    with qtbot.waitSignal(window.models.run.asked, timeout=30_000):
        window.models.workspace.open(program)
    ended(window, qtbot, lambda: window.models.run.answer("7"))
    ended(window, qtbot, lambda: window.models.launch.set_arguments(("north pier", "2")))
    assert "['north pier', '2'] 7 x" in window.view(OutputView).toPlainText()
    window.models.launch.keep_case("a full boat")
    with qtbot.waitSignal(window.models.run.asked, timeout=30_000):
        window.models.launch.choose_case(USUAL)
    ended(window, qtbot, lambda: window.models.run.end_input())
    window.close()
    again = MainWindow()
    qtbot.addWidget(again)
    with qtbot.waitSignal(again.models.run.asked, timeout=30_000):
        again.models.workspace.open(program)
    (its,) = again.models.launch.cases
    menu = again.top_bar._case.menu()
    assert menu is not None
    (entry,) = [action for action in menu.actions() if action.text().startswith("a full boat")]
    ended(again, qtbot, lambda: entry.trigger())
    assert "['north pier', '2'] 7 x" in again.view(OutputView).toPlainText()
    assert again.top_bar._case.text() == "case: a full boat ▾"
    again.models.launch.opened_libraries = ("textwrap",)
    ended(again, qtbot, lambda: again.commands.run_again())
    assert again.models.parts.session.recording is not None
    assert len(again.models.parts.session.recording.trace.program.modules) == 2, "the library is recorded, too"
    again.actions_by_id["drop_case"].trigger()
    again.models.writer.flush()
    assert again.models.launch.cases == session_file.load(program, again.models.writer)[0].cases == []
    assert its.input == ("7",)


def test_encoding_and_line_ends_of_a_file_stay(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    program = tmp_path / "depth.py"
    program.write_bytes("# coding: latin-1\r\nplace = 'Stra\u00dfe'\r\n".encode("latin-1"))
    ended(window, qtbot, lambda: window.models.workspace.open(program))
    qtbot.keyClick(window, Qt.Key.Key_E)
    window.source.editor.setCursorPosition(1, 0)
    qtbot.keyClicks(window.source.editor, "x")
    assert window.models.workspace.save_texts()
    assert program.read_bytes() == "# coding: latin-1\r\nxplace = 'Stra\u00dfe'\r\n".encode("latin-1")
    window.source.editor.setCursorPosition(1, 0)
    window.source.editor.insert("\u2020")
    window.models.workspace.try_to_save()
    assert "could not be saved" in window.notice_bar.text()
