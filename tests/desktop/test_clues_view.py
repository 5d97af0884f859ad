"""Clues in the window: counted in the tab's title, followed, folded, switched off, forbidden, made hints; and what the
text states, claimed by a click."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QComboBox, QListWidgetItem
from pytestqt.qtbot import QtBot
from support.driving import PATIENCE_MS, ended, opened

from eelgrass.desktop.tabs.clues_view import CluesView
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.desktop.window.tab_pane import TabPane
from eelgrass.lessons.exercises.exercise import load

_BOATS = """\
# seats is at least 1
seats = 2
default = ["Ada"]
crew = default
crew.append("Ben")
print(default)
is_full = 0
for name in crew:
    is_full = is_full + 1
print(is_full, seats)
"""


def _found(window: MainWindow, qtbot: QtBot) -> CluesView:
    qtbot.waitUntil(lambda: not window.models.clues.lane.is_busy, timeout=PATIENCE_MS)
    return window.view(CluesView)


def _texts(view: CluesView) -> list[str]:
    return [_item(view, row).text().strip() for row in range(view.count())]


def _item(view: CluesView, row: int) -> QListWidgetItem:
    item = view.item(row)
    assert item is not None
    return item


def _click(view: CluesView, beginning: str) -> None:
    row = next(row for row, text in enumerate(_texts(view)) if text.startswith(beginning))
    view.itemClicked.emit(_item(view, row))


def _title(window: MainWindow) -> str:
    pane = window.findChild(TabPane)
    assert pane is not None
    return pane.tabText(pane.indexOf(window.view(CluesView)))


def test_a_clue_is_counted_and_followed_from_moment_to_moment(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "boats.py", _BOATS)
    view = _found(window, qtbot)
    qtbot.keyClick(window, Qt.Key.Key_C, Qt.KeyboardModifier.ShiftModifier)
    assert (view.isVisible(), _title(window)) == (True, "Clues (1)")
    session, trace = window.models.parts.session, window.models.parts.session.recording.trace  # type: ignore[union-attr]
    assert _texts(view)[0] == "One container, two names · line 4 · strong"
    lines = []
    for _ in range(4):
        _click(view, "One container")
        lines.append(trace.line_of(session.step))
    assert lines == [4, 5, 6, 4], "from one moment to the next, and round"
    _click(view, "line 6, step")
    assert trace.line_of(session.step) == 6
    marked = [
        _item(view, row).text().strip()
        for row in range(view.count())
        if _item(view, row).background().color() == QColor(window.models.look.colours.waterline)
    ]
    assert [text.partition(",")[0] for text in marked] == ["line 6"], "the moment on view stands out"


def test_weak_clues_are_folded_away_and_a_kind_can_be_switched_off(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    opened(window, qtbot, tmp_path / "boats.py", _BOATS)
    view = _found(window, qtbot)
    assert not any(text.startswith("A name that says") for text in _texts(view))
    _click(view, "▸ Weak evidence: 1")
    assert any(text.startswith("A name that says something else · line 7 · weak") for text in _texts(view))
    menu = view.menu_of(window.models.clues.likely[0])
    assert [action.text() for action in menu.actions()] == ["No more clues “One container, two names”"]
    menu.actions()[0].trigger()
    assert (_title(window), window.models.settings.values.clues_off) == ("Clues", ("two-names",))
    _click(view, "Switched off: “One container, two names”")
    assert (_title(window), window.models.clues.off) == ("Clues (1)", [])


def test_what_the_text_states_is_claimed_by_a_click_and_never_by_itself(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    opened(window, qtbot, tmp_path / "boats.py", _BOATS)
    view = _found(window, qtbot)
    assert window.models.parts.breakpoints.breakpoints == []
    _click(view, "line 1: “seats is at least 1” – claim seats >= 1")
    assert [(its.condition, its.claims) for its in window.models.parts.breakpoints.breakpoints] == [
        ("seats >= 1", True)
    ]
    assert not any(text.startswith("line 1: “seats") for text in _texts(view))


def test_an_exercise_can_put_clues_off_forbid_them_and_have_one_as_a_hint(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    folder = tmp_path / "boats"
    folder.mkdir()
    (folder / "boats.py").write_text(_BOATS)
    manifest = 'format = 1\ntitle = "Boats"\nprogram = "boats.py"\nhints = ["Look at 4."]\nclues_after = {0}\n'
    (folder / "exercise.toml").write_text(manifest.format(1))
    ended(window, qtbot, lambda: window.models.workspace.open_exercise(load(folder)))
    view = _found(window, qtbot)
    assert (_title(window), _texts(view)[0]) == ("Clues", "In this exercise clues come after 1 more hints.")
    window.models.solving.use_hint()
    assert _title(window) == "Clues (1)"
    (folder / "exercise.toml").write_text(manifest.format(-1))
    ended(window, qtbot, lambda: window.models.workspace.open_exercise(load(folder)))
    assert _texts(_found(window, qtbot))[0] == "This exercise is to be solved without clues."
    ended(window, qtbot, lambda: window.models.workspace.open_exercise(load(folder), makes=True))
    view = _found(window, qtbot)
    assert _title(window) == "Clues (1)", "for who makes the exercise they are there"
    clue = window.models.clues.likely[0]
    view.menu_of(clue).actions()[-1].trigger()
    when = next(its for its in window.findChildren(QComboBox) if its.accessibleName() == "When clues are shown")
    assert [when.itemData(row) for row in range(when.count())] == [0, 1, 2, -1]
    assert when.currentText() == "are not shown"
    when.setCurrentIndex(2)
    when.activated.emit(2)
    exercise = window.models.authoring.exercise
    assert exercise is not None
    assert (exercise.hints, exercise.clues_after) == (("Look at 4.", clue.text), 2)


def test_who_says_first_sees_no_clues(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "boats.py", _BOATS)
    view = _found(window, qtbot)
    session = window.models.parts.session
    session.set_horizon(session.step)
    assert (_title(window), _texts(view)) == ("Clues", ["Clues come when the whole run may be seen."])
    session.set_horizon(None)
    _found(window, qtbot)
    assert _title(window) == "Clues (1)"


def test_a_case_that_goes_wrong_says_which_clue_counts(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    folder = tmp_path / "boats"
    folder.mkdir()
    (folder / "boats.py").write_text(_BOATS)
    cases = "".join(
        f'[[case]]\nname = "{name}"\noutput = "{told}"\n'
        for name, told in (("wrong", "['Ada']\\n2 2\\n"), ("right", "['Ada', 'Ben']\\n2 2\\n"))
    )
    (folder / "exercise.toml").write_text(f'format = 1\ntitle = "Boats"\nprogram = "boats.py"\n{cases}')
    ended(window, qtbot, lambda: window.models.workspace.open_exercise(load(folder)))
    _found(window, qtbot)
    on_trail = window.models.clues.likely[0].strength
    assert on_trail > 0.9, "it lies on the trail of the first wrong character"
    with qtbot.waitSignal(window.models.solving.judged, timeout=PATIENCE_MS):
        window.models.solving.run_all()
    _found(window, qtbot)
    assert window.models.clues.shown[0].strength < on_trail, "it is there where the case goes right, too"


def test_a_model_says_which_clue_counts(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    strengths = []
    for name, model in (("without", ""), ("with", _BOATS.replace("print(is_full, seats)", "print(2, seats)"))):
        folder = tmp_path / name
        (folder / "sealed").mkdir(parents=True)
        (folder / "boats.py").write_text(_BOATS.replace("print(is_full, seats)", "print(is_full > 2, seats)"))
        (folder / "exercise.toml").write_text(
            'format = 1\ntitle = "Boats"\nprogram = "boats.py"\nhints = ["Look."]\nfirst_wrong_after = 1\n'
            "[[case]]\nname = \"all\"\noutput = \"['Ada', 'Ben']\\n2 2\\n\"\n"
        )
        if model:
            (folder / "sealed" / "boats.py").write_text(model)
            (folder / "sealed" / "sealed.toml").write_text('model = "boats.py"\n')
        ended(window, qtbot, lambda folder=folder: window.models.workspace.open_exercise(load(folder)))  # type: ignore[misc]
        for hint in (False, True):
            if hint:
                window.models.solving.use_hint()
            _found(window, qtbot)
            strengths.append({its.kind: its.strength for its in window.models.clues.shown})
    without, _, before, after = (its["two-names"] for its in strengths)
    assert without == before, "it is not told yet where the run first goes otherwise than the model"
    assert after < before, "the model does it as well, and is right"


def test_clues_of_the_run_before_are_gone_when_another_comes_on_view(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    session, clues = window.models.parts.session, window.models.clues
    opened(window, qtbot, tmp_path / "short.py", "print(1)\n")
    short = session.recording
    opened(window, qtbot, tmp_path / "boats.py", _BOATS)
    _found(window, qtbot)
    assert clues.shown
    seen: list[int] = []
    window.models.parts.breakpoints.changed.connect(lambda: seen.append(len(clues.shown)))  # told before the clues hear
    session.show(short)
    assert seen
    assert not any(seen), "no clue of another run, whoever asks in between"
