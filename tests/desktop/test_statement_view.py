"""This line: where the parts of a statement and their values stand."""

from __future__ import annotations

from conftest import Record

from eelgrass.desktop.source.statement_view import flattened, place_parts
from eelgrass.reading.lines.worked_line import Worked
from eelgrass.reading.recording import Recording

PIERS = """\
class Crab:
    def __init__(self, tag):
        self.tag = tag
    def weigh(self, by):
        return by * 2
stock = {"reef": [3, 1], "pier": [4]}
def total(rows, least=2):
    rows.append(least)
    return sum(rows)
crab = Crab("mo")
weight = crab.weigh(len(stock["reef"])) + total(stock["reef"]) + stock["reef"][2]
if weight > 100 and total([1]) or stock["pier"][0] == 4 < 9 < 2 < weight:
    pass
names = [name.upper() for name in stock]
stock["pier"][weight % 1] += 3 ** 2
for place, levels in sorted(stock.items()):
    text = f"{place!r:>8} {max(levels)}" if levels else None
weight = (total([]) +
          crab.weigh(0))
stock["mud"][total([])]
"""


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
