"""The trail on view: asked with a menu, a key or in words; opened, walked, narrowed; and what kept a line out."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QTreeWidgetItem
from pytestqt.qtbot import QtBot
from support.driving import PATIENCE_MS, ended, opened
from support.programs import TALLY

from eelgrass.desktop.exercise.solving_view import SolvingView
from eelgrass.desktop.tabs.output_view import OutputView
from eelgrass.desktop.tabs.trail_view import TrailView
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.lessons.exercises.exercise import load

_TALLY = (
    TALLY
    + """
beds = [4, 1, 6]
print(tally(beds, 3))
if len(beds) > 3:
    print("many")
"""
)


def _view(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> TrailView:
    opened(window, qtbot, tmp_path / "tally.py", _TALLY)
    return window.view(TrailView)


def _texts(items: list[QTreeWidgetItem | None]) -> list[str]:
    return [item.text(0) for item in items if item is not None]


def _top(view: TrailView) -> list[str]:
    return _texts([view.tree.topLevelItem(place) for place in range(view.tree.topLevelItemCount())])


def test_a_printed_piece_leads_back_link_by_link(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    view = _view(window, qtbot, tmp_path)
    trails, session = window.models.trails, window.models.parts.session
    session.go(session.recording.stepping.last() if session.recording else 0)
    piece = window.view(OutputView)._starts[0][1]
    with qtbot.waitSignal(trails.asked, timeout=PATIENCE_MS):
        window.view(OutputView).asked.emit(piece.step, piece.text)
    assert _top(view) == ["line 10 printed '10'"]
    assert view.isVisible()
    window.commands.walk_trail()
    assert session.recording is not None
    assert session.recording.trace.line_of(session.step) == 10
    with qtbot.waitSignal(trails.stood, timeout=PATIENCE_MS):
        window.commands.walk_trail()
    assert (session.recording.trace.line_of(session.step), trails.place and trails.place.text) == (
        7,
        "line 7: tally gives back 10",
    )
    with qtbot.waitSignal(trails.stood, timeout=PATIENCE_MS):
        window.commands.walk_trail()
    assert trails.place is not None
    assert trails.place.text == "line 6, pass 3: total ← 4 + 6 = 10"
    current = view.tree.currentItem()
    assert current is not None
    assert current.text(0) == trails.place.text
    assert window.timeline._trail == trails.steps
    assert len(trails.steps) > 3
    window.commands.walk_trail_back()
    assert session.recording.trace.line_of(session.step) == 7


def test_a_question_in_words_can_be_narrowed_to_values(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    view = _view(window, qtbot, tmp_path)
    trails, session = window.models.trails, window.models.parts.session
    assert session.recording is not None
    session.go(int(session.recording.visits.of_line(0, 7)[0]))
    window.actions_by_id["where_from"].trigger()
    assert view.question.text() == "total"
    with qtbot.waitSignal(trails.asked, timeout=PATIENCE_MS):
        qtbot.keyClick(view.question, Qt.Key.Key_Return)
    assert _top(view) == [
        "line 6, pass 3: total ← 4 + 6 = 10",
        "line 6 did not run: at line 3, beds had no more elements",
    ]
    view.narrow.setCurrentIndex(1)
    assert _top(view) == ["line 6, pass 3: total ← 4 + 6 = 10"]
    view.narrow.setCurrentIndex(0)
    first = view.tree.topLevelItem(0)
    assert first is not None
    with qtbot.waitSignal(trails.opened, timeout=PATIENCE_MS):
        first.setExpanded(True)
    assert "line 3, pass 3: bed ← 6, from beds" in _texts([first.child(place) for place in range(first.childCount())])
    view.question.setText("nowhere")
    with qtbot.waitSignal(trails.said, timeout=PATIENCE_MS):
        qtbot.keyClick(view.question, Qt.Key.Key_Return)
    assert "reads nothing" in view.title.text()


def test_what_kept_a_line_out_is_asked_at_the_line(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    view = _view(window, qtbot, tmp_path)
    trails, session = window.models.trails, window.models.parts.session
    menu = window.source.menu.menu(window, 12, "beds")
    titles = [action.text() for action in menu.actions()]
    assert titles == ["Where from? beds", "Where from? what line 12 did", "What kept line 12 out?"]
    with qtbot.waitSignal(trails.asked, timeout=PATIENCE_MS):
        menu.actions()[2].trigger()
    assert view.title.text() == "Line 12 did not run: at line 11, len(beds) > 3 is false."
    assert _top(view) == ["line 11 decided: len(beds) > 3 is false"]
    session.go(session.recording.stepping.last() if session.recording else 0)
    with qtbot.waitSignal(trails.asked, timeout=PATIENCE_MS):
        window.source.menu.menu(window, 6, "").actions()[0].trigger()
    assert _top(view) == ["line 6, pass 3: total ← 4 + 6 = 10"]
    session.set_horizon(session.step)
    with qtbot.waitSignal(trails.said, timeout=PATIENCE_MS):
        window.commands.kept_out(12)
    session.set_horizon(None)
    assert session.recording is not None
    session.go(session.recording.stepping.first())


def test_an_exercise_can_keep_trails_until_hints_are_unlocked(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    folder = tmp_path / "tally"
    folder.mkdir()
    (folder / "tally.py").write_text(_TALLY)
    manifest = 'format = 1\ntitle = "Tally"\nprogram = "tally.py"\nhints = ["Look at 3."]\ntrails_after = 1\n'
    (folder / "exercise.toml").write_text(manifest)
    ended(window, qtbot, lambda: window.models.workspace.open_exercise(load(folder)))
    trails = window.models.trails
    with qtbot.waitSignal(trails.said, timeout=PATIENCE_MS) as said:
        window.commands.kept_out(12)
    assert said.args == ["In this exercise trails come after 1 more hints."]
    window.models.solving.use_hint()
    with qtbot.waitSignal(trails.asked, timeout=PATIENCE_MS):
        window.commands.kept_out(12)
    assert not window.view(TrailView).keep.isHidden()
    window.commands.walk_trail()
    window.view(TrailView).note.setText("too few beds")
    window.view(TrailView).attach.click()
    attached = window.models.solving.answer.evidence[-1]
    assert (attached.told, attached.note) == (trails.title, "too few beds")
    assert [moment.told for moment in attached.moments] == [link.text for link in trails.walked]
    assert [(moment.line, moment.visit) for moment in attached.moments] == [(11, 1)]
    rows = window.view(SolvingView).evidence
    assert [item.text().strip() for item in (rows.item(row) for row in range(rows.count())) if item][-1] == (
        attached.moments[0].told
    )


def test_a_trail_is_kept_with_a_note_and_found_again_in_another_run(
    window: MainWindow, qtbot: QtBot, tmp_path: Path
) -> None:
    view = _view(window, qtbot, tmp_path)
    trails, session = window.models.trails, window.models.parts.session
    session.go(session.recording.stepping.last() if session.recording else 0)
    with qtbot.waitSignal(trails.asked, timeout=PATIENCE_MS):
        trails.ask_expression("beds[1]")
    window.commands.walk_trail()
    walked, step = [link.text for link in trails.walked], session.step
    assert walked
    view.note.setText("where it begins")
    view.keep.click()
    assert (view.note.text(), view.kept.text()) == ("", "Kept: 1 ▾")
    opened(window, qtbot, tmp_path / "other.py", "print(1)\n")
    assert view.kept.isHidden()
    opened(window, qtbot, tmp_path / "tally.py")
    below = view.kept_menu().actions()[0]
    menu = below.menu()
    assert below.text().endswith("– where it begins")
    assert menu is not None
    moments = menu.actions()
    assert [action.text() for action in moments[: len(walked)]] == walked
    session.move("last")
    moments[0].trigger()
    assert session.step == step
    moments[-1].trigger()
    assert window.models.kept_trails.kept == ()
