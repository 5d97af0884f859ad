"""Hand-ins of a class: found in folders and zips, grouped by what they do."""

from __future__ import annotations

import csv
import json
import os
import zipfile
from pathlib import Path

import pytest
from click.testing import CliRunner
from support import made_up_class

from eelgrass.cli.main import main
from eelgrass.lessons.class_sets.grouping import Group, grouped, with_differences
from eelgrass.lessons.class_sets.hand_ins import HandIn, hand_ins
from eelgrass.lessons.demo_lesson import FOLDER, demo_lesson
from eelgrass.lessons.judging.judging import Result, judge_all
from eelgrass.runs.order import Leave

_MANY = 25 if os.environ.get("EELGRASS_LONG") else 3


def _groups(name: str, folder: Path) -> list[Group]:
    exercise = demo_lesson().exercise(name)
    handed = hand_ins([folder], exercise.program.name)
    results = judge_all(exercise, [(its.name, its.text) for its in handed], leave=Leave())
    judged = [(its, told) for its, (_, told) in zip(handed, results, strict=True)]
    return with_differences(grouped(judged), exercise, Leave())


@pytest.mark.parametrize("name", made_up_class.BEHAVIOURS)
def test_those_that_do_the_same_are_one_group(name: str, tmp_path: Path) -> None:
    made = made_up_class.make(name, tmp_path, _MANY)
    groups = _groups(name, tmp_path)
    found = sorted(sorted({made[member] for member in its.members}) for its in groups)
    assert found == [[behaviour] for behaviour in range(len(made_up_class.BEHAVIOURS[name]))], "pure, and none in two"
    assert sum(len(its.members) for its in groups) == len(made)
    passing = next(its for its in groups if its.passes)
    assert (passing.name, passing.first_difference) == ("It passes every case.", "")
    for its in groups:
        assert its.passes or its.name
        assert len(its.typical.text) > 0


def test_other_results_with_the_same_prints_are_other_groups() -> None:
    def gave(name: str, why: str) -> tuple[HandIn, list[Result]]:
        return HandIn(name, "pass\n"), [Result("one", "failed", why, "counted\n")]

    results = [gave("gull", "cost(2) gave 3, but 4 was expected."), gave("tern", "cost(2) gave 5, but 4 was expected.")]
    claims = [
        gave(name, f"“total > 0” does not hold at step {n} (line {n}): total = 0.") for n, name in enumerate("ab")
    ]
    groups = grouped([*results, *claims])
    assert [its.members for its in groups] == [("a", "b"), ("gull",), ("tern",)]


def test_a_group_says_what_is_wrong_with_values(tmp_path: Path) -> None:
    made_up_class.make("seahorse_tally", tmp_path, 1)
    told = {its.first_difference for its in _groups("seahorse_tally", tmp_path)}
    assert any("the element 'reef' is 2, with the model 1" in its for its in told)


def test_the_command_tells_groups_to_people_and_to_tools(tmp_path: Path) -> None:
    folder = tmp_path / "class"
    folder.mkdir()
    made_up_class.make("shoot_count", folder, 1)
    (folder / "=1+1").mkdir()
    (folder / "=1+1" / "notes.txt").write_text("")
    asked = ["class", str(FOLDER / "shoot_count"), str(folder), "--format"]
    told = json.loads(CliRunner().invoke(main, [*asked, "json"], catch_exceptions=False).output)
    assert told["answers"] == 6
    assert [its["size"] for its in told["groups"]] == [1] * 6
    missing = next(its for its in told["groups"] if its["typical"] == "keeper 004")
    assert missing["results"] == {"four beds": "passed", "one bed": "raised", "no bed": "raised"}
    (first,) = (its for its in told["groups"] if its["typical"] == "keeper 001")
    assert first["results"] == {"four beds": "failed", "one bed": "failed", "no bed": "passed"}
    assert first["first_difference"]
    rows = list(csv.reader(CliRunner().invoke(main, [*asked, "csv"]).output.splitlines()))
    assert rows[0] == ["hand-in", "group", "four beds", "one bed", "no bed", "what it does"]
    assert {row[0] for row in rows[1:]} == {*(f"keeper {n:03}" for n in range(5)), "'=1+1"}
    assert "1 hand-in: It passes every case." in CliRunner().invoke(main, [*asked, "text"]).output


def test_hand_ins_are_found_as_platforms_hand_them_out(tmp_path: Path) -> None:
    (tmp_path / "notes.txt").write_text("for the class")
    with zipfile.ZipFile(tmp_path / "all.zip", "w") as archive:
        archive.writestr("gull/cost (1).py", "print(1)\n")
        archive.writestr("gull/readme.txt", "mine")
        archive.writestr("tern/one.py", "print(2)\n")
        archive.writestr("tern/two.py", "print(3)\n")
        archive.writestr("heron/empty.txt", "")
        archive.writestr("cost_knot.py", "print(4)\n")
        archive.writestr("__MACOSX/gull/cost.py", "")
        archive.writestr("../../outside.py", "print(5)\n")
        archive.writestr("large/cost.py", "#" * (2 << 20))
        inner = tmp_path / "inner.zip"
        with zipfile.ZipFile(inner, "w") as other:
            other.writestr("deep/cost.py", "print(6)\n")
        archive.write(inner, "plover.zip")
    handed = {its.name: (its.text, its.trouble) for its in hand_ins([tmp_path / "all.zip"], "cost.py")}
    assert handed == {
        "gull": ("print(1)\n", ""),
        "tern": ("", "There are several programs in it."),
        "heron": ("", "There is no program in it."),
        "cost_knot.py": ("print(4)\n", ""),
        "large": ("", "The program is larger than any that is written by hand."),
        "plover.zip": ("print(6)\n", ""),
    }
    with zipfile.ZipFile(tmp_path / "bomb.zip", "w", zipfile.ZIP_DEFLATED) as archive:
        for number in range(70):
            archive.writestr(f"{number:02}/cost.py", "#" * (1 << 20))
    troubles = [bool(its.trouble) for its in hand_ins([tmp_path / "bomb.zip"], "cost.py")]
    assert troubles == [False] * 64 + [True] * 6
    (tmp_path / "broken.zip").write_bytes(b"PK\x03\x04 and nothing")
    assert hand_ins([tmp_path / "broken.zip"], "cost.py") == []
