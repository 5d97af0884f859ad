"""A class set in the window: groups, what is decided, a hand-in read where it goes wrong."""

from __future__ import annotations

import csv
import os
from pathlib import Path

import pytest
from PyQt6.QtCore import QItemSelectionModel, QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QMessageBox
from pytestqt.qtbot import QtBot
from support import made_up_class
from support.driving import PATIENCE_MS

from eelgrass.desktop.activities.classes.class_work import ClassWork
from eelgrass.desktop.class_set.class_set_window import ClassSetWindow
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.lessons.demo_lesson import FOLDER

_ONE = QItemSelectionModel.SelectionFlag.ClearAndSelect


def _idle(qtbot: QtBot, work: ClassWork) -> None:
    qtbot.waitUntil(lambda: not work.lane.is_busy and not work.asking.is_busy, timeout=4 * PATIENCE_MS)


@pytest.fixture
def class_window(window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> ClassSetWindow:
    """A class of ten, dropped onto the open exercise."""
    folder = tmp_path / "class"
    folder.mkdir()
    made_up_class.make("shoot_count", folder, 2)
    with qtbot.waitSignal(window.models.run.ended, timeout=PATIENCE_MS):
        window.models.workspace.open(FOLDER / "shoot_count")
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(folder))])
    monkeypatch.setattr(QMessageBox, "question", lambda *_: QMessageBox.StandardButton.Yes)
    buttons, keys = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    window.dropEvent(QDropEvent(QPointF(9, 9), Qt.DropAction.CopyAction, data, buttons, keys))
    _idle(qtbot, window.models.class_work)
    return window.commands.class_window


def test_a_dropped_folder_is_shown_in_groups_by_numbers_first(
    window: MainWindow, class_window: ClassSetWindow, qtbot: QtBot
) -> None:
    work, cards, group = window.models.class_work, class_window.cards, class_window.group
    assert class_window.isVisible()
    assert cards.count() == len(made_up_class.BEHAVIOURS["shoot_count"])
    assert class_window.told.text().startswith("Shoots in the beds: 10 hand-ins in 5 groups")
    cards.setCurrentRow(1, _ONE)
    shown = [group.members.item(row).text() for row in range(group.members.count())]
    assert all(text.startswith("no. ") for text in shown)
    assert "keeper" not in "".join(shown)
    assert group.text.toPlainText() == work.groups[1].typical.hand_in.text
    assert group.difference.text() == work.differences[work.groups[1].key] != ""
    qtbot.keyClick(class_window, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
    assert sorted(group.members.item(row).text() for row in range(2)) == sorted(work.groups[1].names)
    model = class_window.matrix.rows
    assert model.rowCount() == 10
    cells = {model.index(row, 0).data(): model.index(row, 2).data() for row in range(10)}
    for one in work.groups[1].names:
        assert cells[one] == f"failed: {work.groups[1].typical.outcomes[0].why}"


def test_what_is_decided_is_kept_and_goes_to_each(
    window: MainWindow, class_window: ClassSetWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    work, cards, group = window.models.class_work, class_window.cards, class_window.group
    cards.setCurrentRow(1, _ONE)
    group.comment.setPlainText("Which bed is the first?")
    group.points.setValue(1.5)
    group.name.setText("Bounds")
    group.name.editingFinished.emit()
    first = work.groups[1]
    assert first.name == "Bounds"
    cards.setCurrentRow(2, _ONE)
    assert (group.comment.toPlainText(), group.points.value()) == ("", -1)
    cards.item(1).setSelected(True)
    class_window.merge.click()
    merged = work.groups[0]
    assert (merged.key, len(merged.members)) == (first.key, 4)
    assert cards.count() == 4
    cards.setCurrentRow(0, _ONE)
    assert group.name.text() == "Bounds"
    group.members.setCurrentRow(3, _ONE)
    group.own.click()
    assert cards.count() == 5
    window.commands.save_class_set(tmp_path / "class.csv", ".csv")
    with (tmp_path / "class.csv").open() as file:
        rows = list(csv.DictReader(file))
    assert len(rows) == 10
    assert sum(row["comment"] == "Which bed is the first?" and row["points"] == "1.5" for row in rows) == 3
    window.commands.save_class_set(tmp_path / "pages", "pages")
    assert sorted(os.listdir(tmp_path / "pages"))[0] == "0001.html", "names are hidden"
    paths = work.paths
    work.open(paths)
    _idle(qtbot, work)
    assert (work.groups[0].name, cards.count()) == ("Bounds", 5)
    class_window.as_found.click()
    assert cards.count() == 5
    with qtbot.waitSignal(work.parting.done, timeout=4 * PATIENCE_MS) as parted:
        class_window.part.menu().actions()[0].trigger()  # type: ignore[union-attr]
    (keys,) = parted.args
    assert work.decisions.parted == keys
    assert cards.count() == len(work.groups) == 5 + len({*keys.values()})
    assert max(len(its.members) for its in work.groups) == 2


def test_a_hand_in_is_read_where_it_first_goes_wrong(
    window: MainWindow, class_window: ClassSetWindow, qtbot: QtBot
) -> None:
    models, group = window.models, class_window.group
    class_window.cards.setCurrentRow(1, _ONE)
    its = models.class_work.groups[1]

    def on_view(index: int) -> bool:
        recording = models.parts.session.recording
        ordered = [its.typical, *(one for one in its.members if one != its.typical)]
        text = ordered[index].hand_in.text
        return (
            recording is not None
            and recording.trace.program.modules[0].source == text
            and models.comparison.beside is not None
        )

    group.read.click()
    qtbot.waitUntil(lambda: on_view(0), timeout=PATIENCE_MS)
    recording, step = models.parts.session.recording, models.parts.session.step
    assert recording is not None
    assert models.comparison.beside is not None
    assert step == models.comparison.beside.place_of(0) > 0, "at the first difference from the model"
    assert models.comparison.beside.name == "the model"
    assert models.parts.texts.lent is not None
    assert models.parts.texts.lent.whose.startswith("no. ")
    window.actions_by_id["next_of_group"].trigger()
    qtbot.waitUntil(lambda: on_view(1), timeout=PATIENCE_MS)
    group.members.setCurrentRow(1, _ONE)
    group.side.click()
    qtbot.waitUntil(
        lambda: models.comparison.beside is not None and models.comparison.beside.name.startswith("no. "),
        timeout=PATIENCE_MS,
    )
    window.actions_by_id["leave_hand_in"].trigger()
    given = models.workspace.text
    qtbot.waitUntil(
        lambda: (
            (now := models.parts.session.recording) is not None
            and now.trace.program.modules[0].source == given
            and not models.run.is_running
        ),
        timeout=PATIENCE_MS,
    )
    assert models.hand_in.shown is None


def test_enough_keeps_what_is_known_and_what_is_no_class_says_so(
    window: MainWindow, class_window: ClassSetWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    work, many = window.models.class_work, tmp_path / "many"
    many.mkdir()
    for number in range(60):
        (many / f"keeper {number}.py").write_text(f"print({number})\n")
    work.open([many])
    assert class_window.enough.isVisible()
    qtbot.waitUntil(lambda: work.its is not None, timeout=PATIENCE_MS)
    class_window.enough.click()
    _idle(qtbot, work)
    assert work.its is not None
    assert 0 < len(work.its.judged) < 60
    empty = tmp_path / "empty"
    empty.mkdir()
    work.open([empty])
    _idle(qtbot, work)
    assert "Nothing was handed in there" in window.models.messages.shown[-1].text
