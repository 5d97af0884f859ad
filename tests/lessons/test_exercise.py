"""Exercises: their files, judging cases, the demo lesson, `eelgrass check`, cases as unit tests, answers."""

from __future__ import annotations

import ast
import json
import subprocess
import sys
import zipfile
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from xml.etree import ElementTree

import pytest
from click.testing import CliRunner
from support.desk_programs import skip_without_tk

from eelgrass.cli.main import main
from eelgrass.export.unittests import test_file as unit_test_file
from eelgrass.lessons.answering import answer as answers
from eelgrass.lessons.cases.call_only import alone
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.demo_lesson import demo_lesson
from eelgrass.lessons.exercises import exercise as exercises
from eelgrass.lessons.exercises.exercise import Exercise, ExerciseError
from eelgrass.lessons.judging.judging import alike, judge, judge_all
from eelgrass.lessons.making.faults import faults_of_text

LESSON = demo_lesson()
#: Those that end with an exception; all others are silent.
LOUD = {"seahorse_tally", "rising_water"}


@pytest.mark.parametrize("exercise", LESSON.exercises, ids=lambda its: its.folder.name)
def test_no_faulty_program_passes_all_its_cases_and_every_model_does(exercise: Exercise) -> None:
    skip_without_tk(exercise.program)
    assert exercise.sealed is not None
    faulty = exercise.program.read_text()
    model = exercise.sealed.model[exercise.program.name]
    told = dict(judge_all(exercise, [("faulty", faulty), ("model", model)]))
    assert [result.verdict for result in told["model"]] == ["passed"] * len(exercise.cases)
    assert not all(result.is_passed for result in told["faulty"])
    is_loud = any("exception" in result.why for result in told["faulty"])
    assert is_loud == (exercise.folder.name in LOUD)
    lines = faulty.split("\n")
    assert exercise.sealed.lines
    assert all(lines[line - 1].strip() for line in exercise.sealed.lines)
    differs = {line for line, text in enumerate(lines, 1) if text not in model.split("\n")}
    assert differs <= set(exercise.sealed.lines)
    assert exercise.hints
    assert exercise.points
    assert exercise.stops
    assert exercise.desk_checks
    assert faults_of_text(exercise) == []


def test_an_exercise_is_handed_out_with_and_without_its_sealed_part(tmp_path: Path) -> None:
    exercise = LESSON.exercise("gauge_report")
    for name, with_sealed in (("whole.eelx", True), ("bare.eelx", False)):
        exercises.pack(exercise, tmp_path / name, with_sealed)
        with zipfile.ZipFile(tmp_path / name) as archive:
            packed = b"".join(archive.read(entry) for entry in archive.namelist())
        assert b"good = good + 1" not in packed, "the model is not in plain sight"
        (tmp_path / name[:-5]).mkdir()
        again = exercises.unpack(tmp_path / name, tmp_path / name[:-5])
        assert (again.title, again.cases, again.hints) == (exercise.title, exercise.cases, exercise.hints)
        assert again.sealed == (exercise.sealed if with_sealed else None)
        assert (again.folder / "gauges.txt").read_text() == (exercise.folder / "gauges.txt").read_text()


def _zipped(write: Callable[[zipfile.ZipFile], None]) -> Callable[[Path], None]:
    def make(path: Path) -> None:
        with zipfile.ZipFile(path, "w") as archive:
            write(archive)

    return make


MANIFEST = 'format = 1\ntitle = "Reef"\nprogram = "reef.py"\n'


@pytest.mark.parametrize(
    "make",
    [
        lambda path: path.write_bytes(b"no zip at all"),
        _zipped(lambda archive: archive.writestr("../outside.py", "level = 1")),
        _zipped(lambda archive: archive.writestr("/outside.py", "level = 1")),
        _zipped(lambda archive: archive.writestr("exercise.toml", "format = 9\ntitle = 'x'\nprogram = 'a.py'\n")),
        _zipped(lambda archive: archive.writestr("exercise.toml", MANIFEST)),
        _zipped(lambda archive: archive.writestr("exercise.toml", MANIFEST.replace("reef.py", "../../etc/passwd"))),
        _zipped(lambda archive: archive.writestr("exercise.toml", MANIFEST + "unknown = 3\n")),
        _zipped(lambda archive: [archive.writestr(f"{number}.txt", "") for number in range(600)]),  # type: ignore[arg-type, return-value]
    ],
    ids=["no zip", "up", "root", "format", "no program", "leads out", "unknown", "too many"],
)
def test_files_that_are_no_exercises_are_refused_and_write_nothing_outside(
    make: Callable[[Path], None], tmp_path: Path
) -> None:
    path, folder = tmp_path / "reef.eelx", tmp_path / "inner" / "reef"
    folder.mkdir(parents=True)
    make(path)
    with pytest.raises(ExerciseError, match=r"\.$"):
        exercises.unpack(path, folder)
    assert sorted(its.name for its in tmp_path.iterdir()) == ["inner", "reef.eelx"]
    assert [its.name for its in (tmp_path / "inner").iterdir()] == ["reef"]
    with pytest.raises(ExerciseError):
        exercises.unseal(b"bm90IHNlYWxlZA==")


def test_what_a_submission_forges_does_not_judge_it(tmp_path: Path) -> None:
    program = tmp_path / "reef.py"
    (tmp_path / exercises.MANIFEST).write_text(MANIFEST)
    program.write_text("")
    exercise = exercises.load(tmp_path)
    case = Case("it", output="24 crabs\n")
    assert judge(exercise, case, "print('24 crabs')\n").remark == ""
    by_hand = judge(exercise, case, "import os\nos.write(1, b'24 crabs\\n')\n")
    assert by_hand.is_passed, "what came out is what counts"
    assert by_hand.remark.startswith("Not all that it printed was recorded")
    both = "import sys\nprint('24 crabs', flush=True)\nsys.stdout.buffer.raw.write(b'and more\\n')\n"
    assert not judge(exercise, case, both).is_passed, "what is not recorded is seen all the same"
    for numbers in ("[800]", "range(3, 1024)"):
        spoilt = f"import os\nprint('23 crabs', flush=True)\nfor its in {numbers}:\n"
        spoilt += "    try: os.write(its, b'EEL' * 999)\n    except OSError: pass\n"
        assert not judge(exercise, case, spoilt).is_passed
    name = repr(exercises.MANIFEST)
    looks = "import os\nfor folder, _, names in os.walk('/'):\n"
    looks += f"    if {name} in names: print(open(os.path.join(folder, {name})).read())\n"
    assert "24" not in judge(exercise, case, looks).output


def test_cases_are_judged_by_value_and_runaways_are_stopped(tmp_path: Path) -> None:
    program = tmp_path / "reef.py"
    (tmp_path / exercises.MANIFEST).write_text(MANIFEST)
    program.write_text("")
    exercise = exercises.load(tmp_path)

    def told(text: str, **how: object) -> tuple[str, str]:
        result = judge(exercise, Case("it", **how), text)  # type: ignore[arg-type]
        return result.verdict, result.why

    assert told("print('a')\nprint('b')", output="a\nb") == ("passed", "")
    assert told("print('a')", output="a\nb")[1] == "Line 2 of the output is nothing more, but “b” was expected."
    assert told("print('[3] shoots')", pattern="[*] shoots")[0] == "passed"
    assert told("print('3 shoots')", pattern="[*] shoots")[0] == "failed"
    assert told("def f(): return '3'", call="f()", result="3")[1].endswith("3 was expected (another type).")
    assert told("def f(): return 0.1 + 0.2", call="f()", result="0.3")[0] == "passed"
    assert told("print(input())\ndef f(n): return [n]", call="f(2)", result="[2]") == ("passed", "")
    assert told("while True: pass", output="")[0] == "run away"
    assert told("print(", output="")[0] == "cannot run"
    assert told("raise ValueError('mud')", output="")[1].startswith("It ended with an exception. ValueError: mud")
    broken = told("level = 1\nlevel = -2\n", claims=("level > 0",))[1]
    assert broken.startswith("“level > 0” does not hold at step ")
    assert broken.endswith("level = -2.")
    assert told("import os\nprint(os.listdir('.'))\n", output="['reef.py']")[0] == "passed", (
        "and not the exercise's own"
    )
    assert not alike(True, 1)
    assert alike({"a": [1.0]}, {"a": [1.0 + 1e-12]})


def test_a_function_alone_keeps_its_lines() -> None:
    text = "import math\nSEATS = 8\nprint(input())\n@staticmethod\ndef free(n):\n    return SEATS - n\nfree(1)\n"
    assert alone(text, "free(3)").split("\n") == [
        *("import math", "SEATS = 8", "", "@staticmethod", "def free(n):", "    return SEATS - n", "", ""),
        *("answer = free(3)", ""),
    ]
    with pytest.raises(SyntaxError):
        alone(text, "free(")


def test_check_reports_for_people_and_for_tools(tmp_path: Path) -> None:
    folder = LESSON.exercise("berth_plan").folder
    model, hanging = folder / "sealed" / "berth_plan.py", tmp_path / "hanging.py"
    hanging.write_text("def berth_for(boat, berths):\n    while True:\n        pass\nberth_for(1, 2)\n")
    crashing = tmp_path / "crashing.py"
    crashing.write_text("import os\nos.abort()\n")
    run = CliRunner().invoke
    good = run(main, ["check", str(folder), str(model)])
    assert (good.exit_code, good.stdout.splitlines()) == (0, [f"{model}: 4 of 4 passed"])
    report = tmp_path / "report.xml"
    how = ["--format", "json", "--junit", str(report)]
    mixed = run(main, ["check", str(folder), str(hanging), str(crashing), str(model), *how])
    assert mixed.exit_code == 1
    rows = [json.loads(line) for line in mixed.stdout.splitlines()]
    assert [row["passed"] for row in rows] == [0, 0, 4]
    assert {case["verdict"] for case in rows[0]["cases"]} == {"run away"}
    suites = ElementTree.parse(report).getroot().findall("testsuite")
    assert [(suite.get("tests"), suite.get("errors")) for suite in suites] == [("4", "4"), ("4", "1"), ("4", "0")]
    assert run(main, ["check", str(tmp_path)]).exit_code == 1
    assert run(main, ["check", str(folder), str(tmp_path / "missing.py")]).exit_code == 1


@pytest.mark.parametrize("name", ["berth_plan", "high_tide", "ferry_list"])
def test_cases_run_as_unit_tests_without_eelgrass(name: str, tmp_path: Path) -> None:
    exercise = LESSON.exercise(name)
    assert exercise.sealed is not None
    (tmp_path / f"test_{name}.py").write_text(unit_test_file(exercise))
    for text, status in ((exercise.program.read_text(), 1), (exercise.sealed.model[exercise.program.name], 0)):
        (tmp_path / exercise.program.name).write_text(text)
        command = [sys.executable, "-I", "-m", "unittest", "discover", "-s", str(tmp_path), "-t", str(tmp_path)]
        done = subprocess.run(command, capture_output=True, text=True, check=False, timeout=60)
        assert done.returncode == status, done.stderr


def test_nothing_but_values_gets_into_unit_tests_as_code() -> None:
    case = Case("odd", call="total([])", result="__import__('os').abort()")
    text = unit_test_file(replace(LESSON.exercises[0], title='Reef"""\nraise SystemExit\n"""\\', cases=(case,)))
    tree = ast.parse(text)
    assert [type(node).__name__ for node in tree.body].count("Expr") == 1, "the title stays in the docstring"
    assert "abort" not in [node.attr for node in ast.walk(tree) if isinstance(node, ast.Attribute)]


def test_answers_are_kept_and_bad_ones_refused(tmp_path: Path) -> None:
    path = tmp_path / f"ferry{answers.SUFFIX}"
    evidence = answers.Evidence("usual", 22, 3, "aboard = 7, size = 5")
    answer = answers.Answer(
        "The little ferry",
        lines=(22,),
        statements=("aboard = …",),
        reason="too late",
        evidence=(evidence,),
        hints_used=1,
        program="x = 1",
        results={"usual": ("failed", "no")},
    )
    answers.save(answer, path)
    assert answers.load(path) == answer
    for bad in (b"", b"[]", b'{"exercise": 3}', b'{"exercise": "x", "format": 9}'):
        path.write_bytes(bad)
        with pytest.raises(answers.AnswerError, match=r"\.$"):
            answers.load(path)
    with pytest.raises(answers.AnswerError):
        answers.load(tmp_path / "nowhere")


def test_what_is_wrong_with_an_exercise_itself_is_pointed_out(tmp_path: Path) -> None:
    folder = LESSON.exercise("shoot_count").folder
    assert CliRunner().invoke(main, ["check", str(folder), "--itself"]).output == ""
    (tmp_path / "sealed").mkdir()
    (tmp_path / "sealed" / "model.py").write_text("print(4)\n")
    (tmp_path / "sealed" / "sealed.toml").write_text('lines = [9]\nmodel = "model.py"\n')
    (tmp_path / "reef.py").write_text("print(3)\n")
    case = '[[case]]\nname = "ebb"\noutput = "3"\n[[case]]\nname = "low tide"\noutput = "3"\n'
    plan = (
        '[[point]]\nline = 1\nask = "passes"\n[[point]]\nline = 1\nask = "way"\n'
        '[[stop]]\nline = 1\nvisit = 2\nsay = "Look"\n[[stop]]\nline = 0\nstatement = "beds = 3"\n'
        '[[desk_check]]\nline = 1\ncase = "storm"\n'
    )
    hints = 'hints = ["Look at lines 1 and 8.", " "]\n'
    (tmp_path / exercises.MANIFEST).write_text(MANIFEST + hints + case + '[[case]]\nname = "low tide"\n' + plan)
    told = CliRunner().invoke(main, ["check", str(tmp_path), "--itself"])
    assert told.exit_code == 1
    assert told.stdout.splitlines() == [
        "Nothing is said of what should come of the case “low tide”.",
        "Several cases are called “low tide”.",
        "There is no task yet.",
        "Hint 1 speaks of line 8, but there is no such line in the program.",
        "Hint 2 is empty.",
        "Line 9 is marked as faulty, but there is no such line any more.",
        "Nothing is said of why the marked lines are wrong.",
        "Line 1 is otherwise in the model, but it is not marked as faulty.",
        "The statement of stop 2 of the route is gone: “beds = 3”.",
        "There is no case “storm”, of which desk check 1 is.",
        "Several predictions are asked for at one place, line 1: only the last one is.",
        "Nothing is said at stop 2 of the route.",
        "The faulty program passes all cases: none of them shows the error.",
        "The model does not pass the case “ebb”: Line 1 of the output is “4”, but “3” was expected.",
        "There is nothing to be asked at prediction 1 (line 1, visit 1), or its answer is too long.",
        "There is nothing to be asked at prediction 2 (line 1, visit 1), or its answer is too long.",
        "No run of the cases comes to stop 1 of the route (line 1, visit 2).",
        "No run of the cases comes to desk check 1 (line 1, visit 1).",
    ]


def test_the_lesson_begins_with_loops_and_ends_with_threads() -> None:
    lesson = demo_lesson()
    names = [exercise.folder.name for exercise in lesson.exercises]
    assert (len(names), names[0], names[-1]) == (13, "shoot_count", "two_keys")
    assert lesson.exercise("ferry_list").cases[0].input[:3] == ("3", "4", "5")
    with pytest.raises(KeyError):
        lesson.exercise("nowhere")


def test_a_failed_case_says_where_it_first_does_otherwise_than_the_model_if_it_may() -> None:
    demo = next(its for its in LESSON.exercises if its.folder.name == "crab_tags")
    text = demo.program.read_text()
    case = demo.cases[0]
    assert judge(demo, case, text).first_wrong == (
        "First otherwise than the model in pass 1, line 16: the element 0 is 'mo' in both, "
        "but here in an object from line 13, with the model in one from line 14."
    )
    assert judge(demo, case, text, hints_used=1).first_wrong == ""
    assert judge(demo, case, text, hints_used=2).first_wrong != ""
    assert judge(replace(demo, first_wrong_after=None), case, text).first_wrong == ""
    assert demo.model is not None
    assert judge(demo, case, demo.model).first_wrong == ""
