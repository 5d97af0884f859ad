"""`trail`, `kept-out` and `compare`: what they promise in `docs/cli.md`."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner
from conftest import Record
from support.programs import TALLY

from eelgrass.cli.main import main
from eelgrass.trace.files import recording_file

_TALLY = (
    TALLY
    + """
print(tally([4, 1, 6], 3))
if tally([1], 3):
    print("some")
"""
)


@pytest.fixture
def saved(record: Record, tmp_path: Path) -> Path:
    """The recording of the tally, as a file."""
    recording_file.save(record(_TALLY).trace, tmp_path / "tally.eelrec")
    return tmp_path / "tally.eelrec"


def _rows(*arguments: object, status: int = 0) -> list[dict[str, Any]]:
    done = CliRunner().invoke(main, [str(its) for its in arguments])
    assert done.exit_code == status, done.output
    return [json.loads(line) for line in done.output.splitlines()] if status == 0 or arguments[0] == "compare" else []


def test_the_links_of_a_trail_are_rows_that_lead_to_each_other(saved: Path) -> None:
    rows = _rows("trail", saved, "--output", 0)
    assert [row["link"] for row in rows] == list(range(len(rows)))
    assert {*rows[0]} == {"link", "step", "file", "line", "function", "kind", "what", "value", "text", "from"}
    assert (rows[0]["kind"], rows[0]["line"]) == ("printed", 9)
    assert next(rows[its]["kind"] for its in rows[0]["from"]) == "given back"
    reached = {0}.union(*(row["from"] for row in rows))
    assert reached == set(range(len(rows)))
    given = rows[1]
    assert (given["what"], given["value"]["text"], given["function"]) == ("tally", "10", "tally")
    assert len(_rows("trail", saved, "--output", 0, "--most", 2)) == 2
    at = next(row["step"] for row in rows if row["what"] == "total")
    assert _rows("trail", saved, "--at", at, "bed")[0]["what"] == "bed"


@pytest.mark.parametrize(
    ("arguments", "status"),
    [
        (("--output", 99), 1),
        (("--exception",), 1),
        (("--end",), 1),
        (("--at", 3), 2),
        (("--at", 9999, "total"), 1),
        (("--at", 3, "total +"), 2),
        ((), 2),
    ],
)
def test_a_trail_that_there_is_not_is_refused(saved: Path, arguments: tuple[object, ...], status: int) -> None:
    _rows("trail", saved, *arguments, status=status)


def test_what_kept_a_line_out_has_the_decision_with_its_values(saved: Path) -> None:
    (row,) = _rows("kept-out", saved, 11)
    assert (row["line"], row["visits"], row["reason"]) == (11, 0, "decision")
    assert (row["decision"]["line"], row["decision"]["value"], row["decision"]["text"]) == (10, False, "tally([1], 3)")
    assert row["text"] == "Line 11 did not run: at line 10, tally([1], 3) is false."
    (row,) = _rows("kept-out", saved, 5)
    assert (row["visits"], row["reason"], row["decision"]) == (2, "it ran", None)
    _rows("kept-out", saved, 5, "--file", "nowhere.py", status=1)


def test_two_runs_are_compared_with_an_exit_status(saved: Path, record: Record, tmp_path: Path) -> None:
    (row,) = _rows("compare", saved, saved)
    assert (row["path"], row["value"], row["output"]) == (None, None, None)
    recording_file.save(record(_TALLY.replace("total = 0", "total = 2")).trace, tmp_path / "other.eelrec")
    (row,) = _rows("compare", saved, tmp_path / "other.eelrec", status=1)
    assert (row["value"]["what"], row["value"]["a"]["line"]) == ("total", 2)
    assert (row["value"]["value_a"]["text"], row["value"]["value_b"]["text"]) == ("0", "2")
    assert (row["output"]["character"], row["output"]["b"]) == (1, "2")
    assert row["text"] == "First at line 2: total is 0, and 2 in the other run."
