"""What-ifs: judged against the recording and against other texts; what is set, and what cannot be."""

from __future__ import annotations

import shutil
from pathlib import Path
from random import Random

import pytest
from click.testing import CliRunner
from conftest import Record
from support import what_if_judge as judge
from support.judges import CORPUS

from eelgrass.cli.main import main
from eelgrass.export import json_rows
from eelgrass.reading.recording import Recording
from eelgrass.runs.what_if import OTHER_WAY
from eelgrass.trace.files import recording_file

STATION = """\
class Reading:
    def __init__(self, level):
        self.level = level

def mean(levels):
    total = 0
    for level in levels:
        total += level
    return total / len(levels)

def outer():
    here = 3
    def inner():
        nonlocal here
        here += 1
        return here
    inner()
    return here

levels = [1, 2, 3]
its = Reading(4)
table = {"pier": 5}
print(mean(levels), its.level, table, outer())
"""


@pytest.mark.parametrize("name", ["closures", "gen_delegates", "station_classes", "derived_containers"])
def test_the_value_that_was_there_makes_the_recording_and_another_that_of_another_text(
    name: str, tmp_path: Path
) -> None:
    program = Path(shutil.copy(CORPUS / f"{name}.py", tmp_path))
    recording = Recording(judge.recorded(program, []))
    draw = Random(name)
    assert not [*judge.unchanged(recording, draw, 3), *judge.rewritten(recording, program, [], draw, 2)]


@pytest.mark.parametrize(
    ("line", "setting", "printed"),
    [
        (8, "total = 100", "35.333333333333336 4 {'pier': 5} 4"),
        (8, "levels[1] = 50", "18.0 4 {'pier': 5} 4"),
        (8, "levels = [10]", "6.0 4 {'pier': 5} 4"),
        (8, "its.level = levels", "2.0 [1, 2, 3] {'pier': 5} 4"),
        (8, "table['pier'] = Reading(6).level", "2.0 4 {'pier': 6} 4"),
        (15, "here = 70", "2.0 4 {'pier': 5} 71"),
    ],
)
def test_a_name_an_element_or_a_field_is_set_and_seen_to_be(
    record: Record, line: int, setting: str, printed: str
) -> None:
    recording = record(STATION)
    step = int(recording.visits.of_line(0, line)[0])
    found, missing = judge.what_if(recording, step, recording.stepping.frame_of(step), setting)
    assert (missing, "".join(found.texts.pieces)) == ("", f"{printed}\n")
    assert found.case["what_if"][0][3] == setting.partition(" =")[0]


def test_a_name_of_a_calling_frame_is_set_and_chains_go_on(record: Record) -> None:
    recording = record(STATION)
    step = int(recording.visits.of_line(0, 6)[0])
    module = 0
    once, missing = judge.what_if(recording, step, module, "levels = [8]")
    again = Recording(once)
    later = int(again.visits.of_line(0, 8)[1])
    twice, missing = judge.what_if(again, later, again.stepping.frame_of(later), "total = 11")
    assert missing == ""
    assert "".join(twice.texts.pieces) == f"{(11 + 2 + 3) / 3} 4 {{'pier': 5}} 4\n"
    assert [its[3] for its in twice.case["what_if"]] == ["levels", "total"]
    module_row = next(row for row in json_rows.dump(twice) if row["step"] > later and row["function"] == "<module>")
    assert module_row["variables"]["levels"]["text"] == "[8]"


@pytest.mark.parametrize(
    ("setting", "said"),
    [
        ("nothing = 3", "There is no “nothing” at step"),
        ("table['mud'] = 6", "KeyError: 'mud'"),
        ("levels[9] = 6", "IndexError"),
        ("its.depth = 5", "it has no field of its own called depth"),
        ("total = 1 / 0", "“1 / 0” cannot be worked out there: ZeroDivisionError"),
        ("total = open('x')", "“open” is not among the functions"),
        ("total, level = 3", "one name, element or field at a time"),
        ("total", "NAME = VALUE is wanted"),
    ],
)
def test_what_cannot_be_set_is_said(record: Record, tmp_path: Path, setting: str, said: str) -> None:
    recording = record(STATION)
    kept = tmp_path / "kept.eelrec"
    recording_file.save(recording.trace, kept)
    step = int(recording.visits.of_line(0, 8)[0])
    done = CliRunner().invoke(main, ["what-if", str(kept), str(step), setting, "-o", str(tmp_path / "out.eelrec")])
    assert done.exit_code == 1
    assert said in done.stderr
    assert done.stderr.count("\n") == 1


def test_what_was_typed_is_typed_again_and_another_way_is_said(record: Record, tmp_path: Path) -> None:
    (tmp_path / "level.txt").write_text("3")
    text = "level = int(input())\nif open('level.txt').read() == '3':\n    level += 1\nprint(level, input())\n"
    program = tmp_path / "asks.py"
    program.write_text(text)
    recording = Recording(judge.recorded(program, ["5", "Mon"]))
    step = int(recording.visits.of_line(0, 4)[0])
    found, missing = judge.what_if(recording, step, 0, "level = 9")
    assert ("".join(found.texts.pieces).split("\n")[-2], missing) == ("9 Mon", "")
    (tmp_path / "level.txt").write_text("4")
    found, missing = judge.what_if(recording, step, 0, "level = 9")
    assert missing == OTHER_WAY.format(step)
