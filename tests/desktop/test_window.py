"""The real window, driven as a person would: keys, clicks, typing, files that cannot be opened."""

from __future__ import annotations

import shutil
import subprocess
import sys
from pathlib import Path

import nbformat
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QApplication, QFileDialog, QInputDialog, QPushButton, QToolButton
from pytestqt.qtbot import QtBot
from support.desk_programs import HAS_TK
from support.driving import PATIENCE_MS, ended, opened
from support.virtual_screen import virtual_screen

from eelgrass.colours import LOOKS
from eelgrass.desktop.commands.action_table import ACTIONS
from eelgrass.desktop.commands.commands import Commands
from eelgrass.desktop.commands.dialogs.limits_dialog import LimitsDialog
from eelgrass.desktop.look.icons import SIGNS
from eelgrass.desktop.tabs.output_view import OutputView
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.errors import FileError
from eelgrass.reading.moves import MOVES
from eelgrass.reading.stack.rows import ErrorRow
from eelgrass.reading.state import value_text
from eelgrass.reading.state.call_stack import value_of_name
from eelgrass.runs.confinement import is_confining
from eelgrass.trace.files import recording_file

MEAN = """\
def mean(levels):
    total = sum(levels)
    return total / len(levels)

low = mean([2, 4])
print('mean', low)
"""


def line(window: MainWindow) -> int:
    assert window.models.parts.session.recording is not None
    return window.models.parts.session.recording.trace.line_of(window.models.parts.session.step)


def layer_titles(window: MainWindow) -> list[str]:
    return [placed.layer.title for placed in window.stack.placed]


def test_arrow_keys_walk_forward_and_back(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "mean.py", MEAN)
    keys, seen = Qt.Key, [line(window)]
    for key in (keys.Key_Right, keys.Key_Down, keys.Key_Right, keys.Key_Up, keys.Key_Left, keys.Key_Left):
        qtbot.keyClick(window, key)
        seen.append(line(window))
    assert seen == [1, 5, 2, 3, 6, 5, 1]
    qtbot.keyClick(window, keys.Key_End)
    assert window.view(OutputView).toPlainText() == "mean 3.0\n"
    qtbot.keyClick(window, keys.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    qtbot.keyClick(window, keys.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    assert line(window) == 3, "every single line: back into the call"
    assert layer_titles(window) == ["module", "mean"]
    assert [row.row.name for row in window.stack.placed[1].rows][-1] == "gives back"


def test_every_view_follows_the_reader(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "mean.py", MEAN)
    call = int(window.models.parts.session.recording.visits.of_line(0, 5)[0])  # type: ignore[union-attr]
    window.models.parts.session.go(call)
    editor = window.source.editor
    assert editor.markersAtLine(4) != 0
    assert editor.markersAtLine(3) == 0
    assert window.source.gutter.counts[2].so_far == 0
    assert 2 in editor._faded
    window.models.parts.session.move("into")
    assert 2 not in editor._faded
    assert window.source.note(5).text == "in this call"  # type: ignore[union-attr]
    assert window.top_bar._place.text() == f"step {window.models.parts.session.step} of 8"
    x = window.timeline.x_of(window.models.parts.session.step + 0.5)
    picture = window.timeline.grab().toImage()
    assert picture.pixelColor(int(x), 60).lightness() < QColor(window.models.look.colours.ink).lightness() + 30


def test_clicks_lead_to_steps(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "mean.py", MEAN)
    y = window.source.editor.top_of(3) + 5
    qtbot.mouseClick(window.source.gutter, Qt.MouseButton.LeftButton, pos=QPoint(30, y))
    assert line(window) == 3
    outer = window.stack.placed[0].rect
    qtbot.mouseClick(
        window.stack.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(int(outer.left()) + 30, int(outer.top()) + 8)
    )
    assert line(window) == 5, "a layer's title leads to the line at which it waits"
    end = QPoint(int(window.timeline.x_of(8.5)), 60)
    qtbot.mouseClick(window.timeline, Qt.MouseButton.LeftButton, pos=end)
    assert window.models.parts.session.step == 8
    window.view(OutputView).go_to_piece(window.view(OutputView).textCursor())
    assert line(window) == 6


def test_containers_open_in_place(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "beds.py", "beds = {'pier': [1, 2], 'reef': [3]}\nend = 0\n")
    window.models.parts.session.move("last")
    (row,) = [row for row in window.stack.placed[0].rows if row.row.name == "beds"]
    at = row.rect.center().toPoint()
    qtbot.mouseClick(window.stack.viewport(), Qt.MouseButton.LeftButton, pos=at)
    names = [row.row.name for row in window.stack.placed[0].rows]
    assert names == ["beds", "['pier']", "['reef']", "end"]
    qtbot.mouseClick(window.stack.viewport(), Qt.MouseButton.LeftButton, pos=at)
    assert len(window.stack.placed[0].rows) == 2


def test_a_waiting_program_is_answered_and_run_again_with_the_same_input(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    program = tmp_path / "ferry.py"
    program.write_text("size = int(input('People? '))\nnext_size = int(input('And? '))\nprint(size + next_size)\n")
    place = window.input_line
    with qtbot.waitSignal(window.models.run.asked, timeout=30_000):
        window.models.workspace.open(program)
    assert place.isVisible()
    assert line(window) == 1
    with qtbot.waitSignal(window.models.run.asked, timeout=30_000) as asked:
        qtbot.keyClicks(place.line, "4")
        qtbot.keyClick(place.line, Qt.Key.Key_Return)
    assert asked.args == ["And? "]
    qtbot.keyClicks(place.line, "5")
    ended(window, qtbot, lambda: qtbot.mouseClick(place.give, Qt.MouseButton.LeftButton))
    assert not place.isVisible()
    assert line(window) == 2, "who has typed stays where they typed"
    with qtbot.waitSignal(window.models.run.runner.ended, timeout=30_000):
        window.actions_by_id["run"].trigger()
    assert window.models.parts.session.recording is not None
    assert window.models.parts.session.recording.trace.texts.pieces[-2:] == ["9", "\n"]
    with qtbot.waitSignal(window.models.run.asked, timeout=30_000):
        window.actions_by_id["run_new"].trigger()
    ended(window, qtbot, lambda: qtbot.mouseClick(place.no_more, Qt.MouseButton.LeftButton))
    assert "EOFError" in window.notice_bar.text()


def test_a_run_left_behind_does_not_come_back_over_what_was_opened(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    opened(window, qtbot, tmp_path / "mean.py", MEAN)
    window.commands.save(tmp_path / "mean.eelrec")
    program = tmp_path / "ferry.py"
    program.write_text("size = input('People? ')\n")
    with qtbot.waitSignal(window.models.run.asked, timeout=30_000):
        window.models.workspace.open(program)
    left_behind, ended = window.models.run.runner.run, []
    assert left_behind is not None
    window.models.run.runner.ended.connect(ended.append)
    with qtbot.waitSignal(window.models.parts.session.opened, timeout=30_000):
        window.models.workspace.open(tmp_path / "mean.eelrec")
    assert not window.input_line.isVisible()
    left_behind.wait()
    QApplication.processEvents()
    assert ended == []
    assert window.top_bar._place.text() == "step 1 of 8"
    assert window.notice_bar.text() == ""


def test_what_was_typed_survives_a_text_that_cannot_run(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    program = tmp_path / "ferry.py"
    program.write_text("print(input())\n")
    with qtbot.waitSignal(window.models.run.asked, timeout=30_000):
        window.models.workspace.open(program)
    ended(window, qtbot, lambda: window.models.run.answer("4"))
    program.write_text("print(input()\n")
    window.commands.run_again()
    assert "is opened here and never closed" in window.notice_bar.text()
    program.write_text("print('again', input())\n")
    ended(window, qtbot, lambda: window.commands.run_again())
    assert "again 4" in window.view(OutputView).toPlainText()


def test_a_running_program_can_be_read_and_stopped(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    program = tmp_path / "endless.py"
    program.write_text("tide = 1\nwhile True:\n    tide += 1\n")
    with qtbot.waitSignal(window.models.run.runner.progressed, timeout=30_000):
        window.models.workspace.open(program)
    qtbot.keyClick(window, Qt.Key.Key_Right)
    qtbot.keyClick(window, Qt.Key.Key_Right)
    assert line(window) == 3
    with qtbot.waitSignal(window.models.run.runner.progressed, timeout=30_000):
        pass
    assert line(window) == 3, "who reads meanwhile stays where they are"
    with qtbot.waitSignal(window.models.run.runner.ended, timeout=30_000):
        window.actions_by_id["stop"].trigger()
    assert "You stopped the run. It was at line " in window.notice_bar.text()
    assert window.models.parts.session.recording is not None


def test_a_program_that_waits_shows_its_output_and_where_it_waits_for_how_long(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    program = tmp_path / "waits.py"
    program.write_text(
        "from select import select\ndef wait(boat):\n    select([], [], [], 60)\nprint('out')\nwait(1)\n"
    )
    window.models.workspace.open(program)
    assert "def wait(boat)" in window.source.editor.text(), "its text is there before anything of the run is"
    qtbot.waitUntil(lambda: "at line 3, in wait, for " in window.notice_bar.text(), timeout=PATIENCE_MS)
    assert line(window) == 3, "who has not moved is taken along"
    assert "out" in window.view(OutputView).toPlainText()
    qtbot.keyClick(window, Qt.Key.Key_Home)
    qtbot.keyClick(window, Qt.Key.Key_Right)
    ended(window, qtbot, window.actions_by_id["stop"].trigger)
    assert window.notice_bar.text().startswith("You stopped the run. It was at line 3, in wait.")
    assert line(window) == 2, "who went elsewhere meanwhile stays there"


@pytest.mark.parametrize(
    ("name", "content", "sentence"),
    [
        ("nowhere.py", None, "There is no file or folder called"),
        ("empty_folder", "folder", "has no Python program in it"),
        ("broken.py", "level = 1\nif level\n    pass\n", "for line 2 (“if level”): A colon is missing"),
        ("odd.eelrec", "no recording", "is not a recording, or it is damaged"),
        ("blank.py", " \n", "“blank.py” is empty: there is nothing in it to run."),
        ("chart.png", "\0PNG", "“chart.png” is no Python program: what is in it is no text."),
        ("levels.txt", "3.1 4.2\n", "“levels.txt” is no Python program: Python cannot read it as one."),
        ("old.py", b"# tides\nname = 'Fj\xe4ll'\n", "from line 2 on it is not written in UTF-8, and it does not say"),
        ("odd.py", "# coding: seaweed\n", "there is no encoding called “seaweed”"),
        ("tides.ipynb", "{", "“tides.ipynb” is no notebook that can be read."),
    ],
)
def test_what_cannot_be_opened_is_said_in_the_window(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, name: str, content: str | bytes | None, sentence: str
) -> None:
    path = tmp_path / name
    if content == "folder":
        path.mkdir()
    elif content is not None:
        path.write_bytes(content if isinstance(content, bytes) else content.encode())
    window.models.workspace.open(path)
    qtbot.waitUntil(lambda: sentence in window.notice_bar.text(), timeout=10_000)
    assert window.notice_bar.isVisible()
    if name == "broken.py":
        assert window.source.editor.markersAtLine(1) != 0
        assert window.models.parts.session.recording is None


def test_a_program_that_raises_says_so_and_shows_where(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "raises.py", "beds = [1]\nprint(beds[3])\n")
    assert "IndexError: list index out of range, at line 2." in window.notice_bar.text()
    window.models.parts.session.move("last")
    row = window.stack.placed[-1].layer.rows[-1]
    assert (type(row), row.text) == (ErrorRow, "IndexError('list index out of range')")
    exception_path = window.statement.exception_path
    assert exception_path is not None
    assert exception_path.stations[-1].step == window.models.parts.session.step
    assert "the first one has index 0" in window.notice_bar.text()
    assert "Traceback" in window.view(OutputView).toPlainText()


def test_a_recording_is_saved_and_opened_again(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "mean.py", MEAN)
    window.commands.save(tmp_path / "mean.eelrec")
    assert "saved" in window.notice_bar.text()
    assert len(recording_file.load(tmp_path / "mean.eelrec").steps) == 9
    with qtbot.waitSignal(window.models.parts.session.opened, timeout=30_000):
        window.models.workspace.open(tmp_path / "mean.eelrec")
    assert line(window) == 1
    assert not window.actions_by_id["run"].isEnabled()
    with pytest.raises(FileError, match="could not be saved"):
        window.commands.save(tmp_path / "no_such_folder" / "mean.eelrec")


def test_actions_have_keys_of_their_own_and_all_signs_are_drawn() -> None:
    keys = [key for action in ACTIONS for key in action.keys]
    assert len(keys) == len(set(keys))
    moves = {action.id for action in ACTIONS if action.is_move}
    assert moves == set(MOVES), "every move has an action, and every action a move"
    assert all(callable(getattr(Commands, action.call)) for action in ACTIONS if not action.is_move)
    assert {action.sign for action in ACTIONS if action.sign} == set(SIGNS)


def contrast(first: str, second: str) -> float:
    """WCAG 2 contrast ratio."""

    def luminance(colour: str) -> float:
        parts = [part / 255 for part in QColor(colour).getRgb()[:3] if part is not None]
        red, green, blue = (part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts)
        return 0.2126 * red + 0.7152 * green + 0.0722 * blue

    high, low = sorted((luminance(first), luminance(second)), reverse=True)
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize(("look", "least"), [("light", 4.5), ("dark", 4.5), ("strong", 7.0)])
def test_text_has_enough_contrast(look: str, least: float) -> None:
    c = LOOKS[look]
    pairs = [
        (ink, c.foam) for ink in (c.ink, c.ink_soft, c.ink_faded, c.note, c.kelp, c.coral, c.number, c.text_literal)
    ]
    pairs += [(c.ink, c.waterline), (c.ink_soft, c.sand), (c.ink_soft, c.shallow), (c.kelp, c.waterline)]
    pairs += [(c.ink, c.middle), (c.ink, c.coral_pale), (c.ink_on_leaf, c.leaf), (c.leaf_dark, c.sand)]
    pairs += [(ink, c.deep) for ink in (c.on_deep, c.on_deep_soft, c.change_on_deep, c.trouble_on_deep)]
    pairs += [(c.ink_on_tag, tint) for tint in (c.tag, *c.tag_tints)]
    assert [pair for pair in pairs if contrast(*pair) < least] == []


#: How a colour looks to people without one kind of cones, for linear RGB (Viénot, Brettel, Mollon 1999).
CONES = {
    "without red": ((0.11238, 0.88762, 0.0), (0.11238, 0.88762, 0.0), (0.00401, -0.00401, 1.0)),
    "without green": ((0.29275, 0.70725, 0.0), (0.29275, 0.70725, 0.0), (-0.02234, 0.02234, 1.0)),
}


@pytest.mark.parametrize("look", LOOKS)
@pytest.mark.parametrize("cones", CONES)
def test_trouble_change_and_water_are_told_apart_by_the_colour_blind(look: str, cones: str) -> None:
    c = LOOKS[look]

    def seen(colour: str) -> list[float]:
        linear = [(part / 255) ** 2.2 for part in QColor(colour).getRgb()[:3] if part is not None]
        mixed = (sum(share * part for share, part in zip(row, linear, strict=True)) for row in CONES[cones])
        return [max(part, 0.0) ** (1 / 2.2) for part in mixed]

    for one, other in ((c.coral, c.foam), (c.coral_pale, c.waterline), (c.coral_pale, c.shallow), (c.leaf, c.foam)):
        apart = sum((a - b) ** 2 for a, b in zip(seen(one), seen(other), strict=True)) ** 0.5
        assert apart > 0.045, (one, other)


def test_looks_sizes_and_present_keep_what_is_shown(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "mean.py", MEAN)
    window.models.parts.session.move("last")
    height = window.source.editor.line_height()
    for name in ("look", "larger", "present"):
        window.actions_by_id[name].trigger()
        assert window.source.editor.text() == MEAN
        assert layer_titles(window) == ["module"]
        assert window.view(OutputView).toPlainText() == "mean 3.0\n"
    assert window.source.editor.line_height() > 1.3 * height
    assert not window.top_bar.findChildren(QToolButton)[0].text().startswith("Open")
    window.actions_by_id["present"].trigger()
    window.close()
    again = MainWindow()
    qtbot.addWidget(again)
    assert (again.models.settings.values.look, again.models.settings.values.points) == ("dark", 12.5)
    assert not again.is_presenting


def test_how_much_is_recorded_and_of_which_libraries_can_be_set(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def answer(form: LimitsDialog) -> int:
        form.boxes["most_elements"].setValue(150)
        return 1

    monkeypatch.setattr(LimitsDialog, "exec", answer)
    window.actions_by_id["limits"].trigger()
    assert "next run" in window.notice_bar.text()
    opened(window, qtbot, tmp_path / "levels.py", "import json\nlevels = list(range(400))\nprint(json.dumps('x'))\n")
    monkeypatch.setattr(QInputDialog, "getText", lambda *_of: ("json, nothere", True))
    window.actions_by_id["library"].trigger()
    assert "no module called “nothere”" in window.notice_bar.text()
    assert window.models.launch.opened_libraries == ()
    monkeypatch.setattr(QInputDialog, "getText", lambda *_of: ("json", True))
    ended(window, qtbot, window.actions_by_id["library"].trigger)
    recording = window.models.parts.session.recording
    assert recording is not None
    assert any(Path(module.file).name == "encoder.py" for module in recording.trace.program.modules)
    last = len(recording.trace.steps) - 1
    value = value_of_name(recording.trace, 0, "levels", last)
    number = recording.trace.values.object_of(value)
    assert value_text.recorded_part(recording.trace, number or 0, last).startswith("the first 150 of 400")


def test_a_folder_with_several_programs_asks_which_to_start(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    for name in ("crabs", "tides"):
        (tmp_path / f"{name}.py").write_text(f"print('{name}')\n")
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_of: str(tmp_path))
    monkeypatch.setattr(QInputDialog, "getItem", lambda *of, **_named: (of[3][1], True))
    ended(window, qtbot, window.actions_by_id["open_folder"].trigger)
    assert window.models.workspace.title == "tides.py"


def test_a_notebook_opens_as_the_program_of_its_cells(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    book = nbformat.v4.new_notebook()
    outputs = [nbformat.v4.new_output("stream", text="of an earlier run")]
    book.cells = [
        nbformat.v4.new_markdown_cell("Levels"),
        nbformat.v4.new_code_cell("%matplotlib inline\nimport gauge\n!ls", outputs=outputs),
        nbformat.v4.new_code_cell("%%bash\nls"),
        nbformat.v4.new_code_cell("for level in gauge.levels():\n    print(level, open('unit.txt').read())"),
    ]
    nbformat.write(book, tmp_path / "tides.ipynb")
    (tmp_path / "gauge.py").write_text("def levels():\n    return [3, 4]\n")
    (tmp_path / "unit.txt").write_text("m")
    opened(window, qtbot, tmp_path / "tides.ipynb")
    assert window.models.workspace.title == "tides.ipynb"
    assert window.view(OutputView).toPlainText() == "3 m\n4 m\n"
    assert window.source.editor.text().splitlines()[:4] == ["# Cell 1", "# %matplotlib inline", "import gauge", "# !ls"]
    recording = window.models.parts.session.recording
    assert recording is not None
    assert [Path(its.file).name for its in recording.trace.program.modules] == ["tides.py", "gauge.py"]


def test_a_run_that_a_limit_stopped_goes_on_with_ten_times_as_much(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    window.models.settings.change(max_steps=1000)
    opened(window, qtbot, tmp_path / "levels.py", "for level in range(1500):\n    total = level\nprint(total)\n")
    assert "after 1,000 steps, which is the limit. It was at line " in window.notice_bar.text()
    further = next(its for its in window.notice_bar.findChildren(QPushButton) if its.text().startswith("Go on"))
    ended(window, qtbot, further.click)
    assert "1499" in window.view(OutputView).toPlainText()
    assert window.models.settings.values.max_steps == 1000


@pytest.mark.parametrize(("width", "height", "points"), [(1280, 720, 28.0), (1920, 1080, 40.0), (1024, 700, 18.0)])
def test_presenting_never_makes_the_window_grow(window: MainWindow, width: int, height: int, points: float) -> None:
    window.models.settings.change(present_points=points)
    window.resize(width, height)
    for _ in range(2):
        window.actions_by_id["present"].trigger()
        QApplication.processEvents()
        assert (window.width(), window.height()) == (width, height)
        least = window.minimumSizeHint()
        assert least.width() <= width
        assert least.height() <= height


def test_bookmarks_are_gone_to_and_a_walk_stops_at_the_end(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "mean.py", MEAN)
    steps = []
    for move in ("into", "last"):
        window.models.parts.session.move(move)
        qtbot.keyClick(window, Qt.Key.Key_B)
        steps.append(window.models.parts.session.step)
    window.models.parts.session.move("first")
    for expected in (*steps, steps[-1]):
        qtbot.keyClick(window, Qt.Key.Key_PageDown)
        assert window.models.parts.session.step == expected
    qtbot.keyClick(window, Qt.Key.Key_B)
    assert window.models.parts.breakpoints.bookmarks == steps[:1]
    window.models.parts.session.move("first")
    window.models.player.change_speed(9)
    with qtbot.waitSignal(
        window.models.player.changed, timeout=10_000, check_params_cb=lambda: not window.models.player.is_playing
    ):
        qtbot.keyClick(window, Qt.Key.Key_Space)
    assert window.models.parts.session.step == steps[-1]


def test_moves_through_passes_and_visits_have_keys(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    text = "for bed in range(3):\n    level = bed\n    if bed == 1:\n        level = 9\nend = 0\n"
    opened(window, qtbot, tmp_path / "beds.py", text)
    keys, control, alt = Qt.Key, Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.AltModifier
    qtbot.keyClick(window, keys.Key_Right)
    seen = []
    for key, modifier in (
        (keys.Key_Right, control),
        (keys.Key_End, control),
        (keys.Key_Left, alt),
        (keys.Key_Right, alt),
        (keys.Key_Down, control),
    ):
        qtbot.keyClick(window, key, modifier)
        seen.append((line(window), window.top_bar._place.text().partition(" · ")[2]))
    assert seen == [(2, "pass 2 of 3"), (2, "pass 3 of 3"), (2, "pass 2 of 3"), (2, "pass 3 of 3"), (5, "")]


@pytest.mark.xvfb
@pytest.mark.skipif(shutil.which("Xvfb") is None, reason="no virtual screen here; ./test installs one")
def test_the_tour_drives_a_real_window_on_a_screen(tmp_path: Path) -> None:
    command = [sys.executable, "-m", "eelgrass.cli", "tour", str(tmp_path / "tour")]
    with virtual_screen() as screen:
        done = subprocess.run(command, env=screen, capture_output=True, text=True, timeout=180, check=False)
    assert done.returncode == 0, done.stderr
    pictures = sorted(path.name for path in (tmp_path / "tour").glob("*.png"))
    assert pictures == sorted(
        f"{name}.png"
        for name in (
            *("at-the-end", "exception", "gauges-start", "gives-back", "present", "reading", "reading-dark"),
            *("run-away", "shared-list", "text-with-errors", "waiting-for-input", "ask", "breakpoints"),
            *("two-runs", "what-if", "program-and-model"),
            *(
                "trail",
                "kept-out",
                "threads",
                "two-threads",
                "eel-gate",
                *(("bed-of-stars", "eel-button") if HAS_TK else ()),
            ),
            *("trace-table", "passes", "history", "list-with-indices", "grid", "linked-nodes"),
            *("clues", "clue-followed"),
            *("exercise", "say-it-first", "desk-check", "route", "answer", "making", "making-plan", "sheet"),
            *(("class-set", "class-matrix", "hand-in") if is_confining() else ()),
        )
    )
    assert len(recording_file.load(tmp_path / "tour" / "ferry_list.eelrec").texts.pieces) > 5


def test_a_run_again_draws_the_same_and_a_new_draw_other_numbers_and_files_stay_as_they_were(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    (tmp_path / "log.txt").write_text("old")
    text = "import random\nprint(random.random())\nopen('log.txt', 'w').write('new')\n"
    opened(window, qtbot, tmp_path / "drift.py", text)
    drawn = []
    for again in ("run_again", "run_draw", "run_again"):
        assert window.models.parts.session.recording is not None
        drawn.append(window.models.parts.session.recording.trace.texts.pieces[0])
        ended(window, qtbot, getattr(window.commands, again))
    assert drawn[0] == drawn[1] != drawn[2]
    assert (tmp_path / "log.txt").read_text() == "old"
    assert "log.txt" in window.notice_bar.text()
