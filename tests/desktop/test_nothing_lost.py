"""Nothing typed is lost: not in another module, not by others who write, not by a disk or a folder that fails."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLineEdit
from pytestqt.qtbot import QtBot
from support.driving import PATIENCE_MS, another_window, crashed, ended, opened, type_at

from eelgrass.atomic_write import replaced
from eelgrass.desktop.exercise.solving_view import SolvingView
from eelgrass.desktop.services.settings import Settings
from eelgrass.desktop.tabs.output_view import OutputView
from eelgrass.desktop.tabs.trace_table.table_view import TableView
from eelgrass.desktop.window.conflict_dialog import difference
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.desktop.workspace.session_file import drafts_folder, session_path
from eelgrass.lessons.exercises.exercise import Exercise, Sealed, load
from eelgrass.lessons.exercises.exercise_writer import save
from eelgrass.trace.program import Place

MAIN = "import shelf\nprint(shelf.count([2, 4]))\n"
SHELF = "def count(beds):\n    total = 0\n    for bed in beds:\n        total = total + bed\n    return total\n"


@pytest.fixture
def folder(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> Path:
    """A program of two modules, open at a line of the second one."""
    station = tmp_path / "station"
    opened(window, qtbot, station / "shelf.py", SHELF)
    (station / "main.py").write_text(MAIN)
    ended(window, qtbot, lambda: window.models.workspace.open(station))
    go_into_shelf(window)
    return station


def go_into_shelf(window: MainWindow, line: int = 4) -> None:
    session = window.models.parts.session
    assert session.recording is not None
    session.go(int(session.recording.visits.of_line(1, line)[0]))
    assert window.source.file.endswith("shelf.py")


def printed(window: MainWindow) -> str:
    return window.view(OutputView).toPlainText()


def test_the_new_text_of_another_module_runs_is_saved_by_its_name_and_kept_as_a_draft(
    window: MainWindow, qtbot: QtBot, folder: Path
) -> None:
    type_at(window, qtbot, 2, 12, "100 + ")
    crashed(window)
    assert (folder / "shelf.py").read_text() == SHELF
    again = another_window(qtbot)
    ended(again, qtbot, lambda: again.models.workspace.open(folder))
    assert "106" in printed(again), "what was typed before the crash is what runs"
    go_into_shelf(again)
    assert "total = 100 + 0" in again.source.editor.text()
    assert "100 + 0" in (folder / "shelf.py").read_text(), "running saves, as ever"
    assert (folder / "main.py").read_text() == MAIN
    type_at(again, qtbot, 2, 12, "1")
    again.actions_by_id["save_text"].trigger()
    assert again.notice_bar.text() == "shelf.py is saved."
    assert "1100 + 0" in (folder / "shelf.py").read_text()
    assert list(drafts_folder(folder / "main.py").glob("*.json")) == [] or again.models.writer.flush()


def test_a_text_runs_from_a_folder_that_cannot_be_written(
    window: MainWindow, qtbot: QtBot, folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def refuse(*_: object) -> None:
        raise OSError(30, "Read-only file system")

    with monkeypatch.context() as broken:
        broken.setattr("eelgrass.desktop.workspace.text_files.replace_file", refuse)
        type_at(window, qtbot, 2, 12, "50 + ")
        ended(window, qtbot, lambda: window.actions_by_id["run"].trigger())
        assert "56" in printed(window)
        assert "shelf.py could not be saved: Read-only" in window.notice_bar.text()
        other = folder.parent / "reef.py"
        opened(window, qtbot, other, "print('reef')\n")
        ended(window, qtbot, lambda: window.models.workspace.open(folder))
        assert "56" in printed(window), "also after something else was open"
    window.models.workspace.try_to_save()
    assert "50 + 0" in (folder / "shelf.py").read_text()
    assert "could not be saved" not in window.notice_bar.text(), "once it went well, nothing is said of it any more"


def test_what_could_not_be_kept_stays_in_memory_and_is_kept_later(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    program = opened(window, qtbot, tmp_path / "tides.py", "level = 1\nlevel = 2\n")
    other = opened(window, qtbot, tmp_path / "reef.py", "reef = 1\n")
    ended(window, qtbot, lambda: window.models.workspace.open(program))

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as broken:
        broken.setattr("eelgrass.desktop.services.disk_writer.replace_file", full)
        window.models.parts.breakpoints.toggle(Place(str(program), 2), "level = 2")
        type_at(window, qtbot, 1, 9, "7")
        qtbot.waitUntil(lambda: "No space left" in window.notice_bar.text(), timeout=PATIENCE_MS)
        assert not window.models.writer.flush()
        ended(window, qtbot, lambda: window.models.workspace.open(other))
        assert "No space left" in window.notice_bar.text(), "trouble stays told while it lasts"
        ended(window, qtbot, lambda: window.models.workspace.open(program))
        assert [its.line for its in window.models.parts.breakpoints.breakpoints] == [2]
        assert window.source.editor.text() == "level = 17\nlevel = 2\n"
    assert window.models.writer.flush()
    qtbot.waitUntil(lambda: "No space left" not in window.notice_bar.text(), timeout=PATIENCE_MS)
    assert session_path(program).exists()


def test_a_file_changed_elsewhere_is_taken_or_asked_about_and_never_written_over(
    window: MainWindow, qtbot: QtBot, folder: Path
) -> None:
    shelf = folder / "shelf.py"
    theirs = SHELF.replace("total = 0", "total = 7")
    elsewhere = folder.parent / "elsewhere.py"
    elsewhere.write_text(theirs)
    with qtbot.waitSignal(window.models.files.taken_over, timeout=PATIENCE_MS):
        elsewhere.replace(shelf)  # as other editors do, too: another file in its place
    assert window.source.editor.text() == theirs, "without own changes, just the new one"
    assert "changed elsewhere" in window.notice_bar.text()
    type_at(window, qtbot, 1, 0, "# mine\n")
    mine = window.source.editor.text()
    with qtbot.waitSignal(window.models.files.conflicts_changed, timeout=PATIENCE_MS):
        shelf.write_text(SHELF)
    assert "Neither is lost" in window.notice_bar.text()
    told = difference(window.models.files.conflicts[str(shelf)])
    assert "+ # mine" in told
    assert "−     total = 0" in told
    ended(window, qtbot, lambda: window.actions_by_id["run"].trigger())
    assert "13" in printed(window), "the text here runs"
    assert shelf.read_text() == SHELF, "and is not written over the newer one"
    crashed(window)
    again = another_window(qtbot)
    ended(again, qtbot, lambda: again.models.workspace.open(folder))
    assert str(shelf) in again.models.files.conflicts, "also when the draft is older than the file"
    again.models.files.resolve(str(shelf), keep_mine=True)
    again.models.workspace.save_texts()
    assert shelf.read_text() == mine
    go_into_shelf(again, 5)
    type_at(again, qtbot, 1, 0, "#")
    with qtbot.waitSignal(again.models.files.conflicts_changed, timeout=PATIENCE_MS):
        shelf.write_text(theirs)
    mine = again.source.editor.text()
    choices = {choice.title: choice for message in again.models.messages.shown for choice in message.choices}
    choices["Take the file's"].call()
    assert again.source.editor.text() == theirs
    assert (folder / "shelf 2.py").read_text() == mine
    assert "shelf 2.py" in again.notice_bar.text()
    assert not again.models.files.conflicts


def test_the_second_window_reads_along_or_takes_over(window: MainWindow, qtbot: QtBot, folder: Path) -> None:
    window.models.parts.breakpoints.toggle(Place(str(folder / "main.py"), 2), "print(shelf.count([2, 4]))")
    window.models.writer.flush()
    second = another_window(qtbot)
    ended(second, qtbot, lambda: second.models.workspace.open(folder))
    assert "open in another window" in second.notice_bar.text()
    second.commands.toggle_editing()
    assert not second.source.is_editing
    second.models.parts.breakpoints.set_breakpoints([])
    second.models.writer.flush()
    assert b'"breakpoints":[{' in session_path(folder / "main.py").read_bytes(), "nothing is kept over the other's"
    with qtbot.waitSignal(window.models.claims.lost, timeout=PATIENCE_MS):
        ended(second, qtbot, second.models.workspace.take_over)
    assert len(second.models.parts.breakpoints.breakpoints) == 1, "it begins with what the other one has written"
    assert "taken over" in window.notice_bar.text()
    window.models.parts.breakpoints.set_breakpoints([])
    window.models.writer.flush()
    assert b'"breakpoints":[{' in session_path(folder / "main.py").read_bytes()
    go_into_shelf(second)
    type_at(second, qtbot, 1, 0, "#")
    assert second.source.editor.text() == "#" + SHELF


def test_two_windows_on_one_answer_do_not_write_over_each_other(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    path = tmp_path / "mo.eelanswer"
    ended(window, qtbot, lambda: window.models.workspace.open_exercise(window.lesson.exercise("shoot_count")))
    window.models.solving.save(path)
    window.models.solving.open(path)
    second = another_window(qtbot)
    ended(second, qtbot, lambda: second.models.workspace.open_exercise(second.lesson.exercise("shoot_count")))
    second.models.solving.open(path)
    assert "comments are written there" in second.notice_bar.text()
    window.view(SolvingView).reason.setPlainText("Well found.")
    second.models.solving.comment("Not so.")
    assert window.models.writer.flush()
    assert second.models.writer.flush()
    assert b"Well found." in path.read_bytes()


_WRITER = """
import sys
from pathlib import Path
from eelgrass.atomic_write import replaced
with replaced(Path(sys.argv[1])) as file:
    file.write(b"half of it")
    file.flush()
    print("half", flush=True)
    sys.stdin.read()
"""


def test_a_file_is_there_whole_and_alone_after_a_kill(tmp_path: Path) -> None:
    target = tmp_path / "tides.py"
    target.write_text("level = 1\n")
    command = [sys.executable, "-c", _WRITER, str(target)]
    with subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE) as writer:
        assert writer.stdout is not None
        assert writer.stdout.readline() == b"half\n"
        writer.kill()
    assert (target.read_text(), os.listdir(tmp_path)) == ("level = 1\n", ["tides.py"])
    link = tmp_path / "link.py"
    link.symlink_to(target)
    with replaced(link) as file:
        file.write(b"level = 2\n")
    assert link.is_symlink()
    assert target.read_text() == "level = 2\n", "what a link leads to is written, and the link stays"


def test_a_desk_check_survives_moves_tabs_checks_and_a_restart(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    program = opened(window, qtbot, tmp_path / "beds.py", SHELF + "print(count([2, 3]))\n")
    session, view = window.models.parts.session, window.show_view(TableView)
    assert session.recording is not None
    session.go(int(session.recording.visits.of_line(0, 4)[0]))
    key = view.begin_by_hand(of_call=False)
    column = [its.name for its in view.model.table.columns].index("bed") if view.model.table else -1
    view.view.setCurrentIndex(view.model.index(0, column))
    (editor,) = view.view.findChildren(QLineEdit)  # the cell's own line
    qtbot.keyClicks(editor, "2")
    step = session.step
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: view.model.text(0, column) == "2")
    qtbot.keyClick(view.view, Qt.Key.Key_Down)
    qtbot.keyClick(view.view, Qt.Key.Key_Up)
    assert session.step == step, "arrow keys in the table are the table's"
    view.check()
    session.move("last")
    session.move("first")
    window.show_view(OutputView)
    window.show_view(TableView)
    assert view.model.table is not None
    assert (view.model.table.key, view.model.text(0, column)) == (key, "2")
    window.close()
    again = another_window(qtbot)
    ended(again, qtbot, lambda: again.models.workspace.open(program))
    view = again.show_view(TableView)
    assert view.model.table is not None
    assert (view.model.table.key, view.model.text(0, column)) == (key, "2")
    ended(again, qtbot, lambda: again.actions_by_id["run"].trigger())
    assert view.model.text(0, column) == "2"
    view.toggle_by_hand()
    assert view.model.filled is None


@pytest.mark.parametrize(
    "damage", [b"\x00\xff{", b"[" * 100_000, b'{"cases": NaN}', b'{"table": {"widths": {"a": 1e999}}}']
)
def test_what_was_kept_and_is_damaged_is_put_aside_and_said(
    damage: bytes, window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    program = tmp_path / "tides.py"
    program.write_text("level = 1\n")
    drafts_folder(program).mkdir(parents=True)
    session_path(program).parent.mkdir(parents=True, exist_ok=True)
    draft = drafts_folder(program) / "0.json"
    for path in (session_path(program), draft):
        path.write_bytes(damage)
    opened(window, qtbot, program)
    assert window.models.parts.session.recording is not None
    assert "is damaged, and was put aside" in window.notice_bar.text()
    assert session_path(program).with_suffix(".damaged").read_bytes() == damage
    assert draft.with_suffix(".damaged").read_bytes() == damage


def test_settings_that_make_no_sense_are_as_at_first(tmp_path: Path) -> None:
    state = tmp_path / "state" / "eelgrass"
    state.mkdir(parents=True)
    lines = [
        "look=dark",
        "points=nan",
        "present_points=1e999",
        "speed=[[[[1]]]]",
        "working=perhaps",
        "recent=\x01, ../..",
    ]
    (state / "settings.ini").write_text("[General]\n" + "\n".join(lines) + "\n")
    settings = Settings()
    assert (settings.values.look, settings.values.points, settings.values.speed) == ("dark", 11.0, 2)
    assert "points" in settings.trouble
    (state / "settings.ini").write_bytes(b"\x00\x01[[[[" * 1000)
    assert Settings().values.points == 11.0


def test_lines_and_steps_of_another_module_are_marked_there(window: MainWindow, qtbot: QtBot, folder: Path) -> None:
    exercise = Exercise(folder, folder / "main.py", "Shelves", sealed=Sealed())
    save(exercise)
    ended(window, qtbot, lambda: window.models.workspace.open_exercise(load(folder)))
    go_into_shelf(window)
    window.view(SolvingView).mark.click()
    window.view(SolvingView).attach.click()
    answer = window.models.solving.answer
    assert [(its.file, its.line, its.statement) for its in answer.elsewhere] == [("shelf.py", 4, "total = total + bed")]
    assert answer.lines == ()
    assert (answer.evidence[0].file, answer.evidence[0].line) == ("shelf.py", 4)
    assert window.source.gutter.faulty == {4}
    window.models.parts.session.move("first")
    assert window.source.gutter.faulty == set(), "and not the main module"
    evidence = window.view(SolvingView).evidence
    evidence.itemClicked.emit(evidence.item(0))
    assert window.source.place == Place(str(folder / "shelf.py"), 4)
    type_at(window, qtbot, 1, 0, "# counted at low tide\n")
    assert window.models.solving.faulty_lines(window.source.file) == {5}
    window.close()
    maker = another_window(qtbot)
    ended(maker, qtbot, lambda: maker.models.workspace.open_exercise(load(folder), makes=True))
    go_into_shelf(maker)
    maker.commands.mark_line()
    maker.models.writer.flush()
    sealed = load(folder).sealed
    assert sealed is not None
    assert [(its.file, its.line) for its in sealed.elsewhere] == [("shelf.py", 4)]


def test_a_job_always_ends_and_errors_of_all_threads_are_reported(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    reported: list[BaseException] = []
    monkeypatch.setattr(sys, "excepthook", lambda _kind, error, _trace: reported.append(error))

    def fail(*_: object) -> None:
        raise ZeroDivisionError("a mistake of ours")

    with monkeypatch.context() as broken:
        broken.setattr("eelgrass.reading.recording.Recording.prepare", fail)
        program = tmp_path / "tides.py"
        program.write_text("level = 1\n")
        window.models.workspace.open(program)
        qtbot.waitUntil(lambda: not window.models.run.is_running, timeout=PATIENCE_MS)
        recording = tmp_path / "tides.eelrec"
        recording.write_bytes(b"no recording")
        window.models.workspace.open(recording)
        qtbot.waitUntil(lambda: "Opening" not in window.notice_bar.text(), timeout=PATIENCE_MS)
    assert [str(error) for error in reported] == ["a mistake of ours"], "a damaged file is no error of ours"
    opened(window, qtbot, program)
    with monkeypatch.context() as broken:
        broken.setattr("eelgrass.desktop.session.questions.watch_list.over", fail)
        window.commands.ask()
        window.models.parts.watches.lane.start(fail)
        qtbot.waitUntil(lambda: not window.models.parts.watches.lane.is_busy, timeout=PATIENCE_MS)
    assert len(reported) == 2
