"""Sheets for pen and paper: what is to be found out is not on them, and is on their solutions."""

from __future__ import annotations

from html.parser import HTMLParser
from pathlib import Path

from click.testing import CliRunner
from conftest import Record

from eelgrass.cli.main import main
from eelgrass.export.sheets import sheet
from eelgrass.reading.tables import trace_table as tables
from eelgrass.trace.files import recording_file

_BEDS = """\
def total(counts):
    shoots = 0
    for bed in counts:
        shoots = shoots + bed
        print("bed <", bed)
    return shoots
total([12, 71])
"""


class _Cells(HTMLParser):
    """The texts of a document's cells, and whether all that is opened is closed."""

    def __init__(self, html: str) -> None:
        super().__init__()
        self.open: list[str] = []
        self.cells: list[str] = []
        self.feed(html)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        assert not any(name in ("src", "href") for name, _ in attrs), "nothing from elsewhere"
        if tag not in ("meta", "br"):
            self.open.append(tag)
        if tag in ("td", "th"):
            self.cells.append("")

    def handle_endtag(self, tag: str) -> None:
        assert self.open.pop() == tag

    def handle_data(self, data: str) -> None:
        if {"td", "th"} & set(self.open):
            self.cells[-1] += data.strip()


def test_a_sheet_is_empty_and_its_solution_is_not(record: Record) -> None:
    table = tables.of_loop_at(record(_BEDS), 3, 1)
    empty, solved = sheet(table, "Beds & shoots"), sheet(table, "Beds & shoots", with_solution=True)
    its, filled = _Cells(empty), _Cells(solved)
    assert its.open == filled.open == []
    titles = [its.title for its in table.columns]
    told = [table.cell(row, column).text for row in range(2) for column in range(len(titles))]
    assert {"pass", "bed", "shoots"} <= set(titles)
    assert {"12", "71", "83"} <= set(told)
    assert filled.cells[: len(titles) + len(told)] == titles + told
    assert its.cells[: len(titles)] == titles
    assert [cell for cell in its.cells[len(titles) :] if cell] == ["1", "2"], (
        "passes are numbered, nothing else is told"
    )
    assert "bed &lt; 71" in solved
    assert "bed &lt; 71" not in empty
    assert "<h1>Beds &amp; shoots</h1>" in empty
    assert "\n4          shoots = shoots + bed\n" in empty


def test_the_command_writes_files(record: Record, tmp_path: Path) -> None:
    recording_file.save(record(_BEDS).trace, tmp_path / "beds.eelrec")
    asked = ["sheet", str(tmp_path / "beds.eelrec"), "--function", "total", "-o"]
    assert CliRunner().invoke(main, [*asked, str(tmp_path / "beds.html")]).exit_code == 0
    assert (tmp_path / "beds.html").read_text().startswith("<!DOCTYPE html>")
    wrong = CliRunner().invoke(main, [*asked, str(tmp_path / "beds.doc")])
    assert (wrong.exit_code, "A sheet is a .pdf or an .html file." in wrong.output) == (2, True)
    nobody = CliRunner().invoke(main, ["sheet", str(tmp_path / "beds.eelrec"), "--function", "eel", "-o", "x.html"])
    assert nobody.exit_code == 1


def test_lines_are_numbered_as_python_counts_them(record: Record) -> None:
    table = tables.of_loop_at(record("beds = [1]  # \x0c \u2028\n\x0c\nfor bed in beds:\n    bed = bed\n"), 3, 1)
    text = sheet(table, "Beds").partition("<pre>")[2].partition("</pre>")[0]
    assert "3  for bed in beds:" in text
    assert "4      bed = bed" in text


def test_a_handout_has_the_notes_and_values_of_its_moment(record: Record, tmp_path: Path) -> None:
    made, out = tmp_path / "beds.eelrec", tmp_path / "beds.html"
    recording = record(_BEDS)
    recording_file.save(recording.trace, made)
    told = CliRunner().invoke(main, ["sheet", str(made), "--notes", "8", "-o", str(out)], catch_exceptions=False)
    assert told.exit_code == 0
    its = _Cells(out.read_text())
    assert its.open == []
    rows = [its.cells[place : place + 4] for place in range(4, 4 + 7 * 4, 4)]
    notes = [recording.line_notes.of_line(0, line, 8) for line in range(1, 8)]
    assert [row[3] for row in rows] == [note.text if note is not None else "" for note in notes]
    assert [row[0] for row in rows] == [str(line) for line in range(1, 8)]
    assert {"shoots", "bed", "12"} <= set(its.cells[4 + 7 * 4 :])
    told = CliRunner().invoke(main, ["sheet", str(made), "--notes", "999", "-o", str(out)])
    assert told.exit_code == 1
