"""Making exercises: what is missing, places that go with their statements, results of the model."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest
from conftest import Record
from support.desk_programs import skip_without_tk
from support.programs import RIGHT, WRONG

from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.demo_lesson import demo_lesson
from eelgrass.lessons.exercises import exercise as exercises
from eelgrass.lessons.exercises.exercise import Exercise, ExerciseError, Sealed, load
from eelgrass.lessons.exercises.exercise_writer import save
from eelgrass.lessons.exercises.plan import (
    DeskCheck,
    PlannedPlace,
    PlannedQuestion,
    RouteStop,
    followed,
    here,
    questions_in,
    steps_of,
)
from eelgrass.lessons.making.authoring import begin, belongings, expected
from eelgrass.lessons.making.faults import faults, lines_that_differ


@pytest.fixture
def made(tmp_path: Path) -> Exercise:
    program = tmp_path / "shoots.py"
    program.write_text(RIGHT)
    return begin(tmp_path / "reef_shoots", program, RIGHT)


def test_all_that_is_written_is_read_again_and_what_was_written_by_hand_stays(made: Exercise) -> None:
    manifest = made.folder / exercises.MANIFEST
    manifest.write_text("# for the second week\n" + manifest.read_text())
    whole = replace(
        load(made.folder),
        title="Reef “shoots”",
        task='Two beds.\n\n"""quoted""" and \\back\n',
        hints=("one\ntwo", "'three'"),
        trails_after=1,
        first_wrong_after=2,
        cases=(
            Case("a", ("--low tide",), ("3", ""), output="x\n\ty\n"),
            Case("b", call="total([1])", result="'1'", claims=("1",)),
        ),
        points=(PlannedQuestion(line=3, ask="value", name="shoots", visit=0),),
        stops=(RouteStop(line=4, statement="x = 1", say="**Look**\n", case="a"), RouteStop(line=5)),
        desk_checks=(DeskCheck(line=4, title="by hand", of="call"),),
        sealed=Sealed((3, 4), "It begins\ntoo late.", {"shoots.py": WRONG}),
    )
    save(whole)
    assert load(made.folder) == whole
    assert manifest.read_text().startswith("# for the second week\n")
    bare = replace(
        whole, task="", hints=(), trails_after=0, first_wrong_after=None, cases=(), points=(), stops=(), desk_checks=()
    )
    save(bare)
    assert load(made.folder) == bare


@pytest.mark.parametrize("exercise", demo_lesson().exercises, ids=lambda its: its.folder.name)
def test_nothing_is_missing_in_the_demo_lesson(exercise: Exercise) -> None:
    skip_without_tk(exercise.program)
    assert faults(exercise) == []


def test_a_new_exercise_takes_along_what_its_program_speaks_of(made: Exercise, tmp_path: Path) -> None:
    for name in ("gauges.txt", "tides.py", "letters.txt"):
        (tmp_path / name).write_text("")
    texts = ["import tides\nopen('gauges.txt')\n"]
    assert [path.name for path in belongings(tmp_path / "shoots.py", texts)] == ["gauges.txt", "tides.py"]
    assert (made.title, made.model) == ("Reef shoots", RIGHT)
    with pytest.raises(ExerciseError, match="is not empty"):
        begin(made.folder, tmp_path / "shoots.py", RIGHT)


def test_results_come_from_the_model_and_not_from_the_program(made: Exercise) -> None:
    made.program.write_text(WRONG)
    assert expected(made, Case("two", input=("3", "4", ""))).output == "shoots: shoots: shoots: in all: 7\n"
    assert expected(made, Case("call", call="total([3, 4])")).result == "7"
    like = Case("like", input=("",), pattern="*0")
    assert expected(made, like) == like
    for case, why in (
        (Case("bad", call="total(3)"), "the model does not come to its end. TypeError"),
        (Case("odd", call="total"), "cannot be written as a value"),
        (Case("half", call="total(["), "never closed"),
    ):
        with pytest.raises(ExerciseError, match=why):
            expected(made, case)
    assert lines_that_differ(WRONG, RIGHT) == (3,)


def test_places_stay_with_their_statements_in_any_text_of_the_program(record: Record) -> None:
    recording = record(WRONG, "3", "4", "5", "")
    step = int(recording.visits.of_line(0, 4)[1])
    place = here(recording, step, "three")
    assert place == PlannedPlace(line=4, statement="shoots = shoots + counts[bed]", visit=2, case="three")
    assert steps_of(recording, place, WRONG).tolist() == [step]
    longer = "# low tide\n\n" + WRONG
    (moved,) = followed([place], WRONG, longer)
    assert (moved.line, moved.visit) == (6, 2)
    assert steps_of(recording, moved, longer).tolist() == [step], "also where the recorded text is another"
    (gone,) = followed([moved], longer, longer.replace(f"        {place.statement}\n", ""))
    assert steps_of(recording, gone, longer).tolist() == []
    each = PlannedQuestion(line=4, visit=0)
    assert list(questions_in(recording, [each], "any", WRONG)) == recording.visits.of_line(0, 4).tolist()
    assert questions_in(recording, [PlannedQuestion(line=4, case="other")], "any", WRONG) == {}
