"""Trace tables and passes side by side: against the oracle, in files, in the shell."""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from click.testing import CliRunner
from conftest import Record
from support.judges import CORPUS, UNSEEN, photographs
from support.programs import GAUGES

from eelgrass.cli.main import main
from eelgrass.export import tables as written
from eelgrass.reading.recording import Recording
from eelgrass.reading.tables import iterations, trace_table
from eelgrass.runs.order import Order
from eelgrass.runs.run import Run
from eelgrass.trace.files import recording_file
from eelgrass.trace.model import StepKind

#: Programs in which nothing but the order of statements and their variables is at stake.
PLAIN_PROGRAMS = (
    "tide_loops",
    "shoot_recursion",
    "dictionaries",
    "shared_lists",
    "sorting",
    "seed_bank",
    "closures",
    "unpacking",
)


def texts(its: trace_table.Table) -> list[list[str]]:
    return [[its.cell(row, place).text for place in range(len(its.columns))] for row in range(len(its.rows))]


def titles(its: trace_table.Table) -> list[str]:
    return [column.title for column in its.columns]


@pytest.mark.parametrize("name", PLAIN_PROGRAMS)
def test_cells_are_what_the_oracle_saw(name: str, tmp_path: Path) -> None:
    program = CORPUS / f"{name}.py"
    run = Run(Order(program, arguments=("a reason",)))
    run.start()
    recording = Recording(run.wait())
    expected = photographs(program, tmp_path / "photographs")
    seen = list(_cells_in_order(recording))
    assert len(seen) == len(expected)
    for number, (ours, photograph) in enumerate(zip(seen, expected, strict=True)):
        variables = photograph["texts"]
        assert isinstance(variables, dict)
        # A table has the variables of its call, but neither functions, classes and modules nor long texts.
        theirs = {key: value for key, value in variables.items() if key in ours and len(value) < 200}
        assert {key: ours[key] for key in theirs} == theirs, f"row {number}"
        missing = [key for key, value in variables.items() if key not in ours and not value.startswith("<")]
        assert not missing, f"row {number}"


def _cells_in_order(recording: Recording) -> Iterator[dict[str, str]]:
    """By step, the cells of the row that it has in the table of its call."""
    made: dict[int, trace_table.Table] = {}
    steps = recording.trace.steps
    for step in recording.stepping.stops.tolist():
        frame = recording.stepping.frame_of(step)
        if steps.kind[step] == StepKind.LINE and recording.trace.function_of_frame(frame).name not in UNSEEN:
            its = made.setdefault(frame, trace_table.of_call(recording, frame))
            row = its.row_of(step)
            assert int(its.rows[row]) == step
            cells = ((column, its.cell(row, place)) for place, column in enumerate(its.columns))
            named = ((column.title, cell.text) for column, cell in cells if column.kind == "name" and cell.text)
            yield {title: re.sub(r"<(\w+) #\d+>", r"<\1>", text) for title, text in named}


def test_a_loops_table_has_a_row_for_each_pass(record: Record) -> None:
    recording = record(GAUGES)
    its = trace_table.added(trace_table.of_loop_at(recording, 3, 2), "total * 2")
    assert its.title == "passes of line 3 in mean, call 2 of 2"
    assert titles(its) == ["pass", "level", "levels", "total", "level > 9?", "total * 2"]
    assert texts(its) == [
        ["1", "1", "[1, 99, 4]", "1", "false", "2"],
        ["2", "99", "[1, 99, 4]", "1", "true", "2"],
        ["3", "4", "[1, 99, 4]", "5", "false", "10"],
    ]
    assert [its.cell(row, 3).changed for row in range(3)] == [True, False, True]
    assert recording.trace.line_of(its.cell(2, 3).set_by) == 6
    inside = int(recording.visits.of_line(0, 4)[3])
    assert its.row_of(inside) == 1
    assert its.row_of(recording.stepping.last()) == -1


def test_calls_inside_recursion_and_stretches(record: Record) -> None:
    recording = record("def deep(n):\n    if n:\n        deep(n - 1)\n    m = n\ndeep(2)\nend = 1\n")
    frame = int(recording.calls.of_function(1)[0])
    whole = trace_table.of_call(recording, frame, with_calls=True)
    assert titles(whole) == ["line", "function", "depth", "n", "m", "n?"]
    assert [row[2:5] for row in texts(whole) if row[0] == "4"] == [["3", "0", ""], ["2", "1", ""], ["1", "2", ""]]
    alone = trace_table.of_call(recording, frame)
    assert [row[0] for row in texts(alone)] == ["2", "3", "4", "4 ends"]
    run = trace_table.of_run(recording)
    assert len(run.rows) == len(recording.stepping.stops)
    assert {"end", "deep.n"} < set(titles(run))
    first = int(run.rows[3])
    assert trace_table.of_run(recording, first, first + 4).rows[0] == first


def test_formulas_stay_text_in_files(record: Record) -> None:
    recording = record(GAUGES)
    whole = trace_table.added(trace_table.of_call_named(recording, None), "text[0:]")
    its = whole.with_columns([column for column in whole.columns if column.title in ("line", "shift")])
    rows = list(csv.reader(io.StringIO("".join(written.csv_lines(its)))))
    assert rows[0] == ["line", "shift"]
    assert rows[-1][1] == "-3", "numbers stay numbers"
    for text in ("=1+1", "+x", "-x", "@now", "\tx"):
        assert written.safe(text) == "'" + text
    assert "".join(written.markdown_lines(its)).splitlines()[-1] == "| `13 ends` | `-3` |"


def test_the_shell_writes_tables(record: Record, tmp_path: Path) -> None:
    path = tmp_path / "tides.eelrec"
    recording_file.save(record(GAUGES).trace, path)

    def run(*how: str) -> str:
        return CliRunner().invoke(main, ["table", str(path), *how]).stdout

    assert run("--loop", "3").splitlines()[1] == '1,2,"[2, 3]",2,false'
    rows = [json.loads(line) for line in run("--function", "mean", "--call", "2", "--format", "json").splitlines()]
    assert rows[-1]["cells"]["total"]["text"] == "5"
    assert run("--whole-run", "--format", "md").startswith("| `step` |")
    for wrong in (("--loop", "1"), ("--function", "nowhere"), ("--loop", "3", "--round", "9")):
        assert CliRunner().invoke(main, ["table", str(path), *wrong]).exit_code == 1
    assert CliRunner().invoke(main, ["table", str(path), "--add", "1 +"]).exit_code == 2


def test_passes_stand_side_by_side_and_odd_ones_stand_out(record: Record) -> None:
    text = GAUGES.replace("[1, 99, 4]", "[1, 2, 3, 99, 4, 'x', 5, 6]").replace("level > 9", "level == 99")
    recording = record(text.replace("total + level", "total + len(str(level))"))
    loop = recording.trace.program.statements.index(
        next(its for its in recording.trace.program.statements if its.line == 3)
    )
    step = int(recording.loops.rounds(loop)[1])
    its = iterations.of_loop(recording, step, loop)
    assert len(its) == 8
    assert its.lines == [3, 4, 5, 6]
    assert [its.did(line, 3).text for line in its.lines] == ["level ← 99", "99 == 99 is true", "runs", ""]
    assert its.did(6, 0).text == "total ← 1"
    assert [(odd.place, odd.why) for odd in its.odd()] == [
        (3, "takes a rare path"),
        (5, "level is another type: text"),
    ]
    breach = recording.visits.of_line(0, 6)[8:9]
    assert (7, "a claim is broken") not in [(odd.place, odd.why) for odd in its.odd()]
    assert any("a claim is broken" in odd.why for odd in its.odd(breach))
    calls = iterations.of_function(recording, 1)
    assert len(calls) == 2
    assert calls.did(6, 1).times == 7
    assert calls.place_of(step) == 1
