"""This line: where the parts of a statement and their values stand."""

from __future__ import annotations

from conftest import Record
from support.programs import PIERS

from eelgrass.desktop.source.statement_view import flattened, place_parts
from eelgrass.reading.lines.worked_line import Worked
from eelgrass.reading.recording import Recording


def worked(recording: Recording, line: int, visit: int = 0) -> Worked:
    found = recording.worked_lines.at(int(recording.visits.of_line(0, line)[visit]))
    assert found is not None
    return found


def test_parts_are_laid_under_their_places_in_the_text(record: Record) -> None:
    recording = record(PIERS)
    its = worked(recording, 18)
    text, _ = flattened(its)
    assert text == "weight = (total([]) + crab.weigh(0))"
    placed = place_parts(its, 1.0)
    for part in placed:
        flat = " ".join(piece.strip() for piece in part.part.text.split("\n"))
        assert text[int(part.left) : int(part.right)] == flat
    whole = placed[-1]
    assert all(part.row < whole.row for part in placed[:-1])
    rows = {part.part.text: part.row for part in placed}
    assert rows["[]"] == rows["crab"] == 0, "side by side where there is room"
