"""Two runs side by side: from one difference to the next, in Depths, on the tide line, in both texts; what if."""

from __future__ import annotations

from pathlib import Path

import pytest
from pytestqt.qtbot import QtBot
from support.driving import PATIENCE_MS, opened

from eelgrass.desktop.beside.comparison_view import ComparisonView
from eelgrass.desktop.commands.dialogs.what_if_dialog import WhatIfDialog
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.desktop.workspace.running import earlier_runs
from eelgrass.desktop.workspace.running.other_runs import OtherRun, of_file, offered
from eelgrass.desktop.workspace.session_file import runs_folder
from eelgrass.reading.recording import Recording
from eelgrass.reading.stack.rows import ValueRow
from eelgrass.trace.files import recording_file
from eelgrass.trace.model import Texts

_TALLY = """\
total = 0
for bed in [4, 1, 6]:
    if bed > 2:
        total += bed
print(total)
"""
_OTHER = "# another hand\n" + _TALLY.replace("total = 0", "total = 1").replace("> 2", "> 5")


def _beside(window: MainWindow, qtbot: QtBot, other: OtherRun) -> None:
    comparison = window.models.comparison
    with qtbot.waitSignal(
        comparison.compared, timeout=PATIENCE_MS, check_params_cb=lambda: comparison.beside is not None
    ):
        window.commands.compare_with(other)


def _compared(window: MainWindow, qtbot: QtBot, folder: Path) -> Recording:
    """The run of _TALLY beside that of _OTHER."""
    opened(window, qtbot, folder / "other" / "tally.py", _OTHER)
    other = window.models.parts.session.recording
    assert other is not None
    recording_file.save(other.trace, folder / "other.eelrec")
    opened(window, qtbot, folder / "tally.py", _TALLY)
    _beside(window, qtbot, of_file(folder / "other.eelrec"))
    recording = window.models.parts.session.recording
    assert recording is not None
    return recording


def _depths(window: MainWindow) -> dict[str, str]:
    rows = (row.row for layer in window.stack.placed for row in layer.rows)
    return {row.name: row.text for row in rows if isinstance(row, ValueRow)}


def test_differences_one_after_the_other_in_words_texts_and_depths(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    recording = _compared(window, qtbot, tmp_path)
    session, view = window.models.parts.session, window.view(ComparisonView)
    assert view.isVisible()
    assert view.said.text() == "Beside other.eelrec: 4 differences."
    texts = [its.text() for its in (view.rows.item(row) for row in range(view.rows.count())) if its is not None]
    assert texts == [
        "line 1: total is 0 here, 1 there",
        "line 3: the ways part; 1 step only here follow",
        "line 4: total is 10 here, 7 there",
        "line 5: prints '10' here, '7' there",
    ]
    session.move("first")
    told = []
    for _ in range(3):
        window.actions_by_id["difference"].trigger()
        told.append((recording.trace.line_of(session.step), window.models.messages.latest.text))
    assert told == [(3, texts[1]), (4, texts[2]), (5, texts[3])]
    assert _depths(window)["total"] == "here 10 · there 7"
    assert "here" not in _depths(window)["bed"]
    window.actions_by_id["difference"].trigger()
    assert "nothing of that kind" in window.models.messages.latest.text
    window.actions_by_id["difference_before"].trigger()
    window.actions_by_id["difference_before"].trigger()
    assert recording.trace.line_of(session.step) == 3
    assert [(its.here, its.there) for its in view.texts.lines][:3] == [(0, 1), (1, 2), (2, 3)]
    assert not view.texts.lines[1].is_same
    item = view.rows.item(2)
    assert item is not None
    view.rows.itemClicked.emit(item)
    assert recording.trace.line_of(session.step) == 4


def test_the_other_run_waits_and_takes_the_place_of_this_one(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    recording = _compared(window, qtbot, tmp_path)
    session, comparison = window.models.parts.session, window.models.comparison
    assert window.beside_line.isVisible()
    alone = int(recording.visits.of_line(0, 4)[0])
    session.go(alone)
    assert comparison.beside is not None
    other = comparison.beside.other
    assert other.trace.line_of(comparison.step) == 4  # the decision, a line further down in that text
    assert comparison.beside.alignment.is_apart(alone)
    window.actions_by_id["swap"].trigger()
    assert session.recording is other
    assert other.trace.line_of(session.step) == 4
    assert comparison.beside is not None
    assert comparison.beside.other is recording
    session.move("last")
    assert _depths(window)["total"] == "here 7 · there 10"
    window.view(ComparisonView).alone.click()
    assert not window.beside_line.isVisible()
    assert _depths(window)["total"] == "7"


def test_names_that_are_called_otherwise_stand_beside_each_other(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    opened(window, qtbot, tmp_path / "other" / "tally.py", _OTHER.replace("total", "so_far").replace("bed", "row"))
    other = window.models.parts.session.recording
    assert other is not None
    recording_file.save(other.trace, tmp_path / "other.eelrec")
    opened(window, qtbot, tmp_path / "tally.py", _TALLY)
    _beside(window, qtbot, of_file(tmp_path / "other.eelrec"))
    window.models.parts.session.move("last")
    assert _depths(window) == {"total": "here 10 · there 7", "bed": "6"}


def test_a_file_that_is_no_recording_is_said(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "tally.py", _TALLY)
    (tmp_path / "broken.eelrec").write_text("nothing")
    with qtbot.waitSignal(window.models.comparison.said, timeout=PATIENCE_MS):
        window.commands.compare_with(of_file(tmp_path / "broken.eelrec"))
    assert "is not a recording" in window.view(ComparisonView).said.text()


def test_earlier_runs_and_other_cases_are_offered(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    models = window.models
    opened(window, qtbot, tmp_path / "tally.py", _TALLY)
    models.launch.keep_case("as it came")
    window.source.written.emit(str(tmp_path / "tally.py"), _TALLY.replace("> 2", "> 4"), _TALLY)
    with qtbot.waitSignal(models.run.ended, timeout=PATIENCE_MS):
        models.launch.run_again()
    models.writer.flush()
    runs = offered(models.workspace, models.launch, models.earlier, shows_answer=False)
    assert len(runs) == 1
    assert runs[0].name.startswith("the run of ")
    _beside(window, qtbot, runs[0])
    assert models.comparison.beside is not None
    assert [str(its.kind) for its in models.comparison.beside.differences] == ["path", "value", "output"]


def test_of_the_runs_of_a_program_the_latest_are_kept(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(earlier_runs, "MOST_RUNS", 3)
    models = window.models
    opened(window, qtbot, tmp_path / "tally.py", _TALLY)
    program = models.workspace.program
    assert program is not None
    made = []
    for _ in range(5):
        made.append(models.earlier.latest)
        with qtbot.waitSignal(models.run.ended, timeout=PATIENCE_MS):
            models.launch.run_again()
    models.writer.flush()
    made.append(models.earlier.latest)
    kept = sorted(runs_folder(program).glob("*.eelrec"))
    assert kept == made[-3:]
    monkeypatch.setattr(earlier_runs, "MOST_BYTES", 1)  # what was made last is kept all the same
    with qtbot.waitSignal(models.run.ended, timeout=PATIENCE_MS):
        models.launch.run_again()
    models.writer.flush()
    assert list(runs_folder(program).glob("*.eelrec")) == [models.earlier.latest]


@pytest.mark.parametrize("text", ["import sys\nsys.exit(1)\n", "pass\n", "raise ValueError('mud')\n"])
def test_a_run_without_any_likeness_is_said_to_differ(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, text: str
) -> None:
    opened(window, qtbot, tmp_path / "other" / "tally.py", text)
    other = window.models.parts.session.recording
    assert other is not None
    recording_file.save(other.trace, tmp_path / "other.eelrec")
    opened(window, qtbot, tmp_path / "tally.py", _TALLY)
    _beside(window, qtbot, of_file(tmp_path / "other.eelrec"))
    session, view = window.models.parts.session, window.view(ComparisonView)
    assert view.said.text().startswith("Beside other.eelrec: ")
    first = view.rows.item(0)
    assert first is not None
    assert first.text().startswith("the beginning: the ways part; ")
    session.move("last")
    window.actions_by_id["swap"].trigger()
    assert session.recording is not None
    assert len(session.recording.trace.steps) == len(other.trace.steps)


def _what_if(window: MainWindow, qtbot: QtBot, text: str) -> None:
    what_ifs, comparison = window.models.what_ifs, window.models.comparison
    before = len(what_ifs.runs)
    session = window.models.parts.session
    assert session.recording is not None
    with qtbot.waitSignal(
        comparison.compared,
        timeout=PATIENCE_MS,
        check_params_cb=lambda: comparison.beside is not None and len(what_ifs.runs) > before,
    ):
        window.commands.run_what_if(text, session.recording.stepping.frame_of(session.step))


def test_what_ifs_are_a_tree_that_one_can_go_back_in(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "tally.py", _TALLY)
    session, what_ifs = window.models.parts.session, window.models.what_ifs
    recording = session.recording
    assert recording is not None
    session.go(int(recording.visits.of_line(0, 4)[0]))
    _what_if(window, qtbot, "bed = 40")
    assert session.recording is not recording
    assert _depths(window)["bed"] == "here 40 · there 4"
    assert "On view: what if bed = 40. The run itself is as it was." in window.notice_bar.text()
    assert session.recording is not None
    session.go(int(session.recording.visits.of_line(0, 5)[0]))
    assert _depths(window)["total"] == "here 46 · there 10"
    _what_if(window, qtbot, "total = 5")
    view = window.view(ComparisonView)
    rows = [its.text().strip() for its in (view.tree.item(row) for row in range(3)) if its is not None]
    assert [row.split(",")[0] for row in rows] == ["the run itself", "what if bed = 40", "what if total = 5"]
    assert "you are here" in rows[2]
    first = view.tree.item(0)
    assert first is not None
    view.tree.itemClicked.emit(first)
    assert (session.recording, what_ifs.current) == (recording, 0)
    assert "what if" not in window.notice_bar.text()
    recording_file.save(recording.trace, tmp_path / "other.eelrec")
    _beside(window, qtbot, of_file(tmp_path / "other.eelrec"))
    window.actions_by_id["swap"].trigger()
    names = [its.name for its in what_ifs.runs]  # what is put on view from a file stands beside the tree
    assert names == ["the run itself", "what if bed = 40", "what if total = 5", "other.eelrec"]
    assert what_ifs.current == 3
    what_ifs.go_in(1)
    assert session.recording is what_ifs.runs[1].recording


def test_what_cannot_be_set_is_said_where_it_is_asked(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "tally.py", _TALLY)
    session = window.models.parts.session
    assert session.recording is not None
    step = int(session.recording.visits.of_line(0, 4)[0])
    session.go(step)
    frame = session.recording.stepping.frame_of(step)
    dialog = WhatIfDialog(window, session.recording, step, frame, "total", window.models.look)
    qtbot.addWidget(dialog)
    dialog.value.setText("open('x')")
    dialog._accept()
    assert "not among the functions" in dialog.said.text()
    with qtbot.waitSignal(window.models.what_ifs.lane.failed, timeout=PATIENCE_MS):
        window.commands.run_what_if("total = 1 / 0", frame)
    assert "ZeroDivisionError" in window.notice_bar.text()
    assert session.recording.trace.case.get("what_if") is None


def test_a_what_if_that_needs_more_input_asks_for_it(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    asks = "many = int(input('How many? '))\nfor bed in range(many):\n    print(input(f'bed {bed}: '))\n"
    (tmp_path / "asks.py").write_text(asks)
    run, typed = window.models.run, ["1", "mud"]
    run.asked.connect(lambda _prompt: run.answer(typed.pop(0)))
    opened(window, qtbot, tmp_path / "asks.py")
    session, what_ifs = window.models.parts.session, window.models.what_ifs
    assert session.recording is not None
    session.go(int(session.recording.visits.of_line(0, 2)[0]))
    with qtbot.waitSignal(what_ifs.asked, timeout=PATIENCE_MS):
        window.commands.run_what_if("many = 2", session.recording.stepping.frame_of(session.step))
    assert window.input_line.isVisible()
    comparison = window.models.comparison
    with qtbot.waitSignal(
        comparison.compared, timeout=PATIENCE_MS, check_params_cb=lambda: comparison.beside is not None
    ):
        window.input_line.given.emit("reef")
    assert session.recording is not None
    assert "".join(session.recording.trace.texts.pieces).endswith("reef\nreef\n")


def test_a_what_if_of_a_run_that_read_its_input_to_the_end_does_not_ask(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    reads = "import sys\nfactor = 2\nfor line in sys.stdin:\n    print(factor * int(line))\n"
    (tmp_path / "reads.py").write_text(reads)
    run, typed = window.models.run, ["1", "4"]
    run.asked.connect(lambda _prompt: run.answer(typed.pop(0)) if typed else run.end_input())
    opened(window, qtbot, tmp_path / "reads.py")
    session = window.models.parts.session
    assert session.recording is not None
    session.go(int(session.recording.visits.of_line(0, 3)[0]))
    _what_if(window, qtbot, "factor = 3")
    assert window.input_line.isHidden()
    assert "".join(session.recording.trace.texts.of(Texts.OUTPUT)) == "3\n12\n"
