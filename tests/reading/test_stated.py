"""What the text of a program states, as claims: what is understood, what is not, and whether it held."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
from click.testing import CliRunner
from conftest import Record

from eelgrass.cli.main import main
from eelgrass.reading.breakpoints.breakpoint import described, hits, outcome
from eelgrass.reading.stated.sentences import claim_in
from eelgrass.reading.stated.stated_claims import stated_claims
from eelgrass.trace.files import recording_file

_NAMES = ("stock", "names", "x", "crab")


@pytest.mark.parametrize(
    ("sentence", "claim"),
    [
        ("stock never falls below 0", "stock >= 0"),
        ("The stock must not drop below zero", "stock >= 0"),
        ("stock is never negative", "stock >= 0"),
        ("x is between 1 and 6", "1 <= x <= 6"),
        ("x: from 1 to 6", "1 <= x <= 6"),
        ("`x` never exceeds 10.5", "x <= 10.5"),
        ("x must be at least 3", "x >= 3"),
        ("invariant: names is sorted", "names == sorted(names)"),
        ("names is a list of names", "isinstance(names, list) and all(isinstance(its, str) for its in names)"),
        ("names holds whole numbers", "all(isinstance(its, int) for its in names)"),
        ("names is never empty", "len(names) > 0"),
        ("crab.weight is positive", "crab.weight > 0"),
        ("always stock + x <= 12", "stock + x <= 12"),
        ("stock is what is left", ""),
        ("ferry never falls below 0", ""),
        ("names are read from the file", ""),
        ("x", ""),
        ("print(x)", ""),
        ("__import__('os').system('x') == x", ""),
    ],
)
def test_a_sentence_is_understood_or_left_alone(sentence: str, claim: str) -> None:
    assert claim_in(sentence, _NAMES) == claim


_BOARD = '''\
stock = 5  # stock never falls below 0
def board(people: list[str], seats: int = 6) -> int:
    """Lets people board; seats is between 1 and 12.

    Returns a whole number.
    """
    aboard = 0
    # assert len(people) < 2, "few"
    kept = people
    # assert aboard == 0: a loop comes here again and again
    for one in people:
        aboard += 1
    return aboard
for party in (["Ada"], ["Ben", "Cy"], [4]):
    stock -= 2 * board(party)
'''


def test_what_is_stated_can_be_claimed(record: Record, tmp_path: Path) -> None:
    recording = record(_BOARD)
    told = [
        (its.line, described(its.claim), outcome(its.claim, hits(recording, its.claim)))
        for its in stated_claims(recording.trace)
    ]
    assert [(line, where.removeprefix("claim: "), re.split(":| \\(", came)[0]) for line, where, came in told] == [
        (1, "everywhere, stock >= 0", "broken at step 25"),
        (2, "in board, isinstance(people, list) and all(isinstance(its, str) for its in people)", "broken at step 28"),
        (2, "in board, isinstance(seats, int)", "always held"),
        (2, "line 13, isinstance(aboard, int)", "always held"),
        (3, "in board, 1 <= seats <= 12", "always held"),
        (8, "line 9, len(people) < 2", "broken at step 17"),
    ]
    path = tmp_path / "board.eelrec"
    recording_file.save(recording.trace, path)
    shown = CliRunner().invoke(main, ["clues", "--stated", str(path)])
    rows = [(row["line"], row["held"], row["broken_at"]) for row in map(json.loads, shown.output.splitlines())]
    assert rows[:3] == [(1, False, 25), (2, False, 28), (2, True, None)]
