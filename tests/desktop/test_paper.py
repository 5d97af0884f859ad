"""What leaves the window for those without Eelgrass: paper and pages."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtPdf import QPdfDocument
from pytestqt.qtbot import QtBot
from support.driving import PATIENCE_MS, opened

from eelgrass.desktop.commands.dialogs.paper_dialog import PaperDialog
from eelgrass.desktop.window.main_window import MainWindow

_BEDS = """\
def shoots_of(beds):
    shoots = 0
    for bed in beds:
        shoots = shoots + bed
    return shoots
print(shoots_of([12, 71]))
"""


def _texts(file: Path) -> list[str]:
    """The words on each page of a PDF, as another reader reads them."""
    document = QPdfDocument(None)
    assert document.load(str(file)) == QPdfDocument.Error.None_
    return [document.getAllText(page).text() for page in range(document.pageCount())]


def test_a_table_goes_on_paper_empty_and_solved(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "beds.py", _BEDS)
    window.models.parts.session.move("into")
    window.models.parts.session.move("into")
    window.models.parts.session.move("into")
    window.commands.show_sheet()
    (dialog,) = window.findChildren(PaperDialog)
    dialog.save_as(tmp_path / "empty.pdf")
    dialog.solution.setChecked(True)
    dialog.on_each.setCurrentIndex(dialog.on_each.findData(2))
    dialog.save_as(tmp_path / "solved.pdf")
    (empty,), (solved,) = _texts(tmp_path / "empty.pdf"), _texts(tmp_path / "solved.pdf")
    assert "shoots = shoots + bed" in empty
    assert "83" not in empty
    assert "83" in solved
    assert solved.count("beds.py: solution") == 2, "twice on a sheet that has room for it"
    dialog.save_as(tmp_path / "no folder" / "solved.pdf")
    assert "could not be written" in window.models.messages.shown[-1].text
    dialog.reject()


def test_the_text_goes_on_paper_as_it_stands(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "beds.py", _BEDS)
    window.models.parts.session.go(9)
    window.commands.show_handout()
    (dialog,) = window.findChildren(PaperDialog)
    assert not dialog.solution.isVisible()
    dialog.save_as(tmp_path / "text.pdf")
    (text,) = _texts(tmp_path / "text.pdf")
    recording = window.models.parts.session.recording
    assert recording is not None
    note = recording.line_notes.of_line(0, 4, window.models.parts.session.step)
    assert note is not None
    assert note.text in text
    assert recording.timeline.words(window.models.parts.session.step) in text
    dialog.reject()


def test_a_page_is_written_of_what_the_tide_line_shows(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    opened(window, qtbot, tmp_path / "beds.py", _BEDS)
    window.models.parts.options.set_stretch(4, 8)
    page = tmp_path / "beds.html"
    window.models.pages.write(page)
    qtbot.waitUntil(lambda: not window.models.pages.lane.is_busy, timeout=PATIENCE_MS)
    assert "This page shows a part of the run: steps 4 to 7 of" in page.read_text()
    assert "beds.html" in window.models.messages.shown[-1].text
    window.models.pages.write(tmp_path / "no folder" / "beds.html")
    qtbot.waitUntil(lambda: not window.models.pages.lane.is_busy, timeout=PATIENCE_MS)
    assert window.models.messages.shown[-1].is_trouble
