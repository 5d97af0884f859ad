"""Hand-ins of a class: found in folders and zips, grouped by what they do."""

from __future__ import annotations

import csv
import json
import os
import subprocess
import sys
import zipfile
from collections.abc import Iterator
from concurrent.futures import Future
from contextlib import contextmanager
from pathlib import Path
from xml.etree import ElementTree

import pytest
from click.testing import CliRunner
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from support import first_year, made_up_class
from support.mutants import by_plain_python, class_of, exercise_of
from support.rewritten import renamed

from eelgrass.cli.main import main
from eelgrass.export.class_reports import handed_back
from eelgrass.lessons.answering.answer import Answer
from eelgrass.lessons.answering.answer import decoded as decoded_answer
from eelgrass.lessons.answering.answer import encoded as encoded_answer
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.class_sets import cluster, outcomes
from eelgrass.lessons.class_sets.class_runs import Judged, own_cores
from eelgrass.lessons.class_sets.class_set import ClassSet, class_set
from eelgrass.lessons.class_sets.cluster import ClusterError, workers_at
from eelgrass.lessons.class_sets.decisions import Decisions, DecisionsError, arranged, decoded, encoded
from eelgrass.lessons.class_sets.failures import Failures, by_clue, by_moment, parted
from eelgrass.lessons.class_sets.grouping import grouped
from eelgrass.lessons.class_sets.hand_ins import HandIn, HandInsError, hand_ins
from eelgrass.lessons.class_sets.kept_outcomes import KeptOutcomes
from eelgrass.lessons.class_sets.normal_form import normal_form
from eelgrass.lessons.class_sets.outcomes import Outcome, outcome_of, run_case
from eelgrass.lessons.demo_lesson import FOLDER, demo_lesson
from eelgrass.lessons.exercises.exercise import Exercise
from eelgrass.lessons.judging.judging import Ran, Result, recorded
from eelgrass.reading.progress import Progress
from eelgrass.runs.order import Leave

_MANY = 25 if os.environ.get("EELGRASS_LONG") else 3


def _class_set(name: str, *folders: Path, kept: Path | None = None) -> ClassSet:
    exercise, store = demo_lesson().exercise(name), KeptOutcomes(kept)
    with own_cores(None, Leave()) as workers:
        its = class_set(exercise, hand_ins(folders, exercise), workers, store)
    store.close()
    return its


@pytest.mark.parametrize("name", made_up_class.BEHAVIOURS)
def test_those_that_do_the_same_are_one_group(name: str, tmp_path: Path) -> None:
    made = made_up_class.make(name, tmp_path, _MANY)
    its = _class_set(name, tmp_path)
    found = sorted(sorted({made[member] for member in group.names}) for group in its.groups)
    assert found == [[behaviour] for behaviour in range(len(made_up_class.BEHAVIOURS[name]))], "pure, and none in two"
    assert sum(len(group.members) for group in its.groups) == len(made)
    passing = next(group for group in its.groups if group.passes)
    failures = Failures(its.exercise, Leave())
    assert (passing.name, failures.of(passing.typical).words) == ("It passes every case.", "")
    for group in its.groups:
        assert group.passes or group.name
        assert len(group.typical.hand_in.text) > 0


def test_other_results_with_the_same_prints_are_other_groups() -> None:
    def gave(name: str, why: str) -> Judged:
        return Judged(HandIn(name, "pass\n"), (outcome_of(Result("one", "failed", why, "counted\n")),))

    results = [gave("gull", "cost(2) gave 3, but 4 was expected."), gave("tern", "cost(2) gave 5, but 4 was expected.")]
    claims = [
        gave(name, f"“total > 0” does not hold at step {n} (line {n}): total = 0.") for n, name in enumerate("ab")
    ]
    assert [its.names for its in grouped([*results, *claims])] == [["a", "b"], ["gull"], ["tern"]]


def test_a_group_says_what_is_wrong_with_values(tmp_path: Path) -> None:
    made_up_class.make("seahorse_tally", tmp_path, 1)
    its = _class_set("seahorse_tally", tmp_path)
    failures = Failures(its.exercise, Leave())
    told = {failures.of(group.typical).first.sentence for group in its.groups}
    assert any("the element 'reef' is 2, with the model 1" in its for its in told)


class _Nobody:
    """Workers that count what they are asked for, and say the same of all."""

    def __init__(self) -> None:
        self.asked = 0

    def submit(self, _exercise: Exercise, case: Case, _text: str) -> Future[Outcome]:
        self.asked += 1
        future: Future[Outcome] = Future()
        future.set_result(outcome_of(Result(case.name, "failed", "It is all mud.")))
        return future


def test_what_ran_before_is_not_run_again(tmp_path: Path) -> None:
    exercise, kept = demo_lesson().exercise("shoot_count"), tmp_path / "kept.sqlite"
    handed = [HandIn(str(number), f"print({number % 10})\n") for number in range(20)]

    def runs(handed: list[HandIn]) -> tuple[int, ClassSet]:
        workers, store = _Nobody(), KeptOutcomes(kept)
        its = class_set(exercise, handed, workers, store)
        store.close()
        return workers.asked, its

    cases = len(exercise.cases)
    first, whole = runs(handed)
    assert first == 10 * cases, "what is the same is run once"
    assert len(whole.judged) == 20
    again, same = runs([*handed, HandIn("new", "print('new')\n")])
    assert again == cases
    assert [its.names for its in same.groups] == [[*whole.groups[0].names, "new"]]
    kept.write_bytes(b"no store at all, but long enough to be looked at as one" * 100)
    assert runs(handed)[0] == 10 * cases, "without it, all is run"
    assert runs(handed)[0] == 0, "and kept anew"


def test_whoever_has_enough_gets_what_is_known(tmp_path: Path) -> None:
    exercise, progress, seen = demo_lesson().exercise("shoot_count"), Progress(), list[Judged]()

    def enough_after(its: Judged) -> None:
        seen.append(its)
        if len(seen) == 5:
            progress.give_up()

    handed = [HandIn("broken", trouble="There is no program in it.")]
    handed += [HandIn(str(number), f"print({number})\n") for number in range(200)]
    its = class_set(exercise, handed, _Nobody(), KeptOutcomes(None), progress, enough_after)
    assert 5 <= len(its.judged) < 100
    assert its.judged[0].outcomes[0].why == "There is no program in it."


def test_a_way_over_several_hand_ins(tmp_path: Path) -> None:
    exercise = demo_lesson().exercise("shoot_count")
    for day, gull in (("monday", exercise.program.read_text()), ("tuesday", exercise.model or "")):
        (tmp_path / day).mkdir()
        (tmp_path / day / "gull.py").write_text(gull)
    (tmp_path / "monday" / "tern.py").write_text(exercise.program.read_text().replace("counts", "seen"))
    its = _class_set("shoot_count", tmp_path / "monday", tmp_path / "tuesday")
    assert [one.hand_in.name for one in its.judged] == ["tern.py", "gull.py"]
    assert [one.passed for one in its.ways["gull.py"]] == [1, 3]
    assert its.as_given == ["tern.py"]
    assert [group.passes for group in its.groups if "gull.py" in group.names] == [True]


def test_answers_that_mark_the_same_line_are_one_group(tmp_path: Path) -> None:
    exercise = demo_lesson().exercise("shoot_count")
    given = exercise.program.read_text()
    for name, lines in (("gull", (7,)), ("tern", (7,)), ("heron", (9,)), ("plover", ())):
        its = Answer(exercise.title, lines=lines, reason=f"{name} thinks so", given=given, program=given)
        (tmp_path / f"{name}.eelanswer").write_bytes(encoded_answer(its))
    (tmp_path / "knot.eelanswer").write_bytes(encoded_answer(Answer("Another", program=given)))
    found = _class_set("shoot_count", tmp_path)
    assert [sorted(group.names) for group in found.groups] == [
        *(["gull.eelanswer", "tern.eelanswer"], ["heron.eelanswer"], ["knot.eelanswer"], ["plover.eelanswer"])
    ]
    assert found.groups[0].name.endswith("but “shoots: 43” was expected. Marked as faulty: line 7.")
    assert found.groups[0].members[0].hand_in.reason == "gull thinks so"
    assert "This is an answer to “Another”" in found.groups[2].name
    told = Decisions().with_group(found.groups[0].key, comment="Which bed is the first?")
    back = dict(handed_back(found, found.groups, told, with_names=False))
    assert sorted(back) == [
        *("0001.eelanswer", "0001.html", "0002.html", "0003.html", "0004.html", "0005.eelanswer", "0005.html")
    ]
    assert decoded_answer(back["0001.eelanswer"], "").comment == "Which bed is the first?"


def test_names_and_layout_are_no_difference_and_all_else_is() -> None:
    lines = ("def total(beds):", "    # all", "    shoots = 0", "    for bed in beds:", "        shoots += len(bed)")
    one = "\n".join((*lines, "    return shoots", ""))
    for same in (
        one.replace("shoots", "sum_of_all").replace("bed", "place"),
        one.replace("    # all\n", '    """Counts."""\n').replace(" += ", "+="),
        one.replace("len", "len").replace("beds):", "beds ) :"),
    ):
        assert normal_form(same) == normal_form(one)
    for other in (
        one.replace("+=", "-="),
        one.replace("len", "sum"),
        one.replace("in beds", "in shoots"),
        one.replace("0", "1"),
        one.replace("        shoots", "    shoots"),
    ):
        assert normal_form(other) != normal_form(one)
    assert normal_form("def total(:") == ""
    for seed in range(40):
        text = first_year.program(seed).text
        assert normal_form(renamed(text)) == normal_form(text)


def test_groups_are_as_the_instructor_wants_them(tmp_path: Path) -> None:
    made_up_class.make("shoot_count", tmp_path, 2)
    its = _class_set("shoot_count", tmp_path)
    first, second, third, *_ = its.groups
    decisions = Decisions().with_merged([first.key, second.key], first.key)
    decisions = decisions.with_group(first.key, name="Bounds", comment="Look at the first bed.", points=1.5)
    decisions = decisions.with_parted(third.names[:1], "own 1").with_group("own 1", name="Alone")
    groups = arranged(its.groups, decoded(encoded(decisions), "decisions"))
    assert (groups[0].name, sorted(groups[0].names)) == ("Bounds", sorted([*first.names, *second.names]))
    assert [group.names for group in groups if group.name == "Alone"] == [third.names[:1]]
    assert sum(len(group.members) for group in groups) == len(its.judged)
    chained = decisions.with_merged([first.key], third.key)
    assert len(arranged(its.groups, chained)) == len(groups) - 1, "what was merged goes along"
    assert arranged(its.groups, decisions.without_moves()) != groups
    with pytest.raises(DecisionsError):
        decoded(b'{"groups": []}', "decisions")


def test_what_is_said_of_a_hand_in_does_not_name_it(tmp_path: Path) -> None:
    exercise = demo_lesson().exercise("shoot_count")
    (tmp_path / "plover.eelanswer").write_bytes(b"none")
    (tmp_path / "knot.py").write_bytes(b"x" * (2 << 20))
    (tmp_path / "ruff").mkdir()
    (tmp_path / "ruff" / "ruff.zip").write_bytes(b"none")
    told = [its.trouble for its in hand_ins([tmp_path], exercise)]
    assert all(told)
    assert not any(name in one for one in told for name in ("plover", "ruff", "knot")), "a class may see it"


@pytest.mark.parametrize("seed", range(7000, 7040 if os.environ.get("EELGRASS_LONG") else 7002))
def test_groups_are_those_that_plain_python_tells_apart(seed: int, tmp_path: Path) -> None:
    program, texts = class_of(seed, 12)
    if program.has_threads:
        pytest.skip("its threads may take other turns in each run")
    plain = {str(n): by_plain_python(text, program.typed, tmp_path / str(n)) for n, text in enumerate(texts)}
    handed = [HandIn(name, texts[int(name)]) for name, told in plain.items() if told is not None]
    exercise = exercise_of(program, (plain["0"] or ("", ""))[1], tmp_path / "exercise")
    with own_cores(None, Leave()) as workers:
        its = class_set(exercise, handed, workers, KeptOutcomes(None))
    expected: dict[object, list[str]] = {}
    for one in handed:
        expected.setdefault(plain[one.name], []).append(one.name)
    assert sorted(sorted(group.names) for group in its.groups) == sorted(sorted(names) for names in expected.values())


def test_groups_are_parted_by_where_they_first_go_wrong(tmp_path: Path) -> None:
    model = demo_lesson().exercise("shoot_count").model or ""
    (tmp_path / "gull.py").write_text(model.replace("total = 0", "total = 1"))
    (tmp_path / "tern.py").write_text("# mine\n" + model.replace("total = 0", "total = 1"))
    (tmp_path / "wren.py").write_text(model.replace("return total", "return total + 1"))
    its = _class_set("shoot_count", tmp_path)
    assert [sorted(group.names) for group in its.groups] == [["gull.py", "tern.py", "wren.py"]]
    keys = parted(its.groups, Failures(its.exercise, Leave()), by_moment)
    assert [*keys] == ["wren.py"]
    assert [sorted(group.names) for group in arranged(its.groups, Decisions().with_keys(keys))] == [
        *(["gull.py", "tern.py"], ["wren.py"])
    ]


def test_groups_are_parted_by_clue_which_the_shell_tells(tmp_path: Path) -> None:
    model = demo_lesson().exercise("shoot_count").model or ""
    texts = {
        "gull.py": model.replace("return total", "return total + 1"),
        "tern.py": model.replace("return total", "return total + 1") + "\n# mine",
        "wren.py": model.replace("return total", "total + 1\n    return total + 1"),
    }
    handed = tmp_path / "class"
    handed.mkdir()
    for name, text in texts.items():
        (handed / name).write_text(text)
    its = _class_set("shoot_count", handed)
    keys = parted(its.groups, Failures(its.exercise, Leave()), by_clue)
    assert ([len(its.groups), *keys]) == [1, "wren.py"]
    folder = demo_lesson().exercise("shoot_count").folder
    told = CliRunner().invoke(main, ["class", str(folder), str(handed), "--by-clue", "--format", "json"])
    groups = json.loads(told.output)["groups"]
    assert [(group["members"], group["clue"]) for group in groups] == [
        *((["gull.py", "tern.py"], None), (["wren.py"], "goes-nowhere"))
    ]


def test_what_is_handed_back_has_no_names_unless_asked_for(tmp_path: Path) -> None:
    folder, out = tmp_path / "class", tmp_path / "back"
    folder.mkdir()
    made_up_class.make("shoot_count", folder, 1)
    decisions = tmp_path / "decisions.json"
    its = _class_set("shoot_count", folder)
    told = Decisions().with_group(its.groups[0].key, comment="Look <again>.", points=2.0)
    decisions.write_bytes(encoded(told))
    asked = ["class", str(FOLDER / "shoot_count"), str(folder), "--decisions", str(decisions), "--pages", str(out)]
    rows = CliRunner().invoke(
        main, [*asked, "--format", "csv", "--junit", str(tmp_path / "junit.xml")], catch_exceptions=False
    )
    pages = {file.name: file.read_text() for file in out.iterdir()}
    assert sorted(pages) == [f"{number:04}.html" for number in range(1, 6)]
    assert not any("keeper" in page for page in pages.values())
    assert sum("Look &lt;again&gt;." in page and "Points: 2" in page for page in pages.values()) == 1
    table = list(csv.DictReader(rows.output.splitlines()))
    assert [row["points"] for row in table if row["comment"] == "Look <again>."] == ["2"]
    suites = ElementTree.parse(tmp_path / "junit.xml").getroot()
    assert {suite.get("name") for suite in suites} == {row["hand-in"] for row in table}
    CliRunner().invoke(main, [*asked, "--names"], catch_exceptions=False)
    assert (out / "0001 keeper 000.html").exists()


_HOSTILE = """\
import glob, os, sqlite3, tempfile
for place in (os.path.expanduser("~"), tempfile.gettempdir(), "/"):
    for name in glob.glob(place + "/**/*.sqlite", recursive=True) + glob.glob(place + "/**/keeper*", recursive=True):
        print("found", name)
        open(name, "a").write("taken")
for name in ("../keeper.py", "{kept}", "{other}"):
    try:
        print(open(name).read())
        open(name, "w").write("taken")
    except OSError as error:
        print("refused")
"""


def test_a_hostile_hand_in_reads_no_other_and_changes_no_result(tmp_path: Path) -> None:
    folder, kept = tmp_path / "class", tmp_path / "kept.sqlite"
    folder.mkdir()
    model = demo_lesson().exercise("shoot_count").model or ""
    other = folder / "keeper.py"
    other.write_text(model)
    _class_set("shoot_count", folder, kept=kept)
    before = kept.read_bytes()
    (folder / "mallory.py").write_text(_HOSTILE.replace("{kept}", str(kept)).replace("{other}", str(other)) + model)
    its = _class_set("shoot_count", folder, kept=None)
    (hostile,) = (one for one in its.judged if one.hand_in.name == "mallory.py")
    assert hostile.outcomes[0].output.startswith("refused\nrefused\nrefused\n")
    assert kept.read_bytes() == before
    assert other.read_text() == model
    assert [group.names for group in its.groups if group.passes] == [["keeper.py"]]


@contextmanager
def _cluster(workers: int) -> Iterator[tuple[str, list[subprocess.Popen[str]]]]:
    """The address of a scheduler on this machine, and the processes of its workers."""

    def start(module: str, *arguments: str) -> subprocess.Popen[str]:
        command = [sys.executable, "-m", f"distributed.cli.{module}", *arguments, "--no-dashboard"]
        return subprocess.Popen(command, stderr=subprocess.PIPE, text=True)

    started = [start("dask_scheduler", "--host", "127.0.0.1", "--port", "0")]
    assert started[0].stderr is not None
    address = next(line.split()[-1] for line in started[0].stderr if "Scheduler at:" in line)
    started += [start("dask_worker", address, "--nthreads", "1", "--no-nanny") for _ in range(workers)]
    try:
        yield address, started[1:]
    finally:
        for its in reversed(started):
            its.kill()
            its.communicate()


def test_a_cluster_says_the_same_also_when_a_worker_dies(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    pytest.importorskip("distributed")
    monkeypatch.setattr(cluster, "_PATIENCE_SECONDS", 5)
    made_up_class.make("shoot_count", tmp_path, 3)
    here = _class_set("shoot_count", tmp_path)
    exercise = here.exercise
    told = list[Judged]()
    with _cluster(2) as (address, processes), workers_at(address) as workers:

        def lose_one(its: Judged) -> None:
            told.append(its)
            processes[0].kill()

        handed = hand_ins([tmp_path], exercise)
        there = class_set(exercise, handed, workers, KeptOutcomes(None), judged=lose_one)
    assert processes[0].returncode is not None
    assert len(told) == len(handed), "each is told of once"
    assert [(group.key, group.names) for group in there.groups] == [(group.key, group.names) for group in here.groups]
    with pytest.raises(ClusterError, match="No scheduler answers"), workers_at("tcp://127.0.0.1:1"):
        pass


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
    told_of = ("marked", "reason", "points", "comment")
    rows = list(csv.reader(CliRunner().invoke(main, [*asked, "csv"]).output.splitlines()))
    assert rows[0] == ["hand-in", "group", "four beds", "one bed", "no bed", "what it does", *told_of]
    assert {row[0] for row in rows[1:]} == {*(f"keeper {n:03}" for n in range(5)), "'=1+1"}
    assert "1 hand-in: It passes every case." in CliRunner().invoke(main, [*asked, "text"]).output


def test_hand_ins_are_found_as_platforms_hand_them_out(tmp_path: Path) -> None:
    exercise = Exercise(tmp_path, tmp_path / "cost.py", "Costs")
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
    handed = {its.name: (its.text, its.trouble) for its in hand_ins([tmp_path / "all.zip"], exercise)}
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
    troubles = [bool(its.trouble) for its in hand_ins([tmp_path / "bomb.zip"], exercise)]
    assert troubles == [False] * 64 + [True] * 6
    (tmp_path / "broken.zip").write_bytes(b"PK\x03\x04 and nothing")
    with pytest.raises(HandInsError, match="is no zip, or it is damaged"):
        hand_ins([tmp_path / "broken.zip"], exercise)


@given(data=st.data())
@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_what_is_damaged_takes_nobody_elses_away(data: st.DataObject, tmp_path: Path) -> None:
    exercise, file = Exercise(tmp_path, tmp_path / "cost.py", "Costs"), tmp_path / "all.zip"
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as archive:
        for name in ("gull", "tern", "wren"):
            archive.writestr(f"{name}/cost.py", "print('" + name * 200 + "')\n")
    whole = bytearray(file.read_bytes())
    first = whole.index(b"tern/cost.py") + len("tern/cost.py")
    end = whole.index(b"PK\x03\x04", first)
    for place in data.draw(st.lists(st.integers(first, end - 1), min_size=1, max_size=4)):
        whole[place] ^= data.draw(st.integers(1, 255))
    file.write_bytes(whole)
    handed = {its.name: its for its in hand_ins([file], exercise)}
    assert "gull" in handed["gull"].text
    assert "wren" in handed["wren"].text
    assert bool(handed["tern"].text) != bool(handed["tern"].trouble)


def test_what_the_machine_could_not_do_is_done_again(monkeypatch: pytest.MonkeyPatch) -> None:
    exercise, ran = demo_lesson().exercise("shoot_count"), list[str]()

    def recorded_once_busy(*_: object) -> Ran | str:
        ran.append("")
        return "There is no room on the disk." if len(ran) == 1 else recorded(*given)

    given = exercise, exercise.cases[0], exercise.model or "", Leave()
    monkeypatch.setattr(outcomes, "recorded", recorded_once_busy)
    assert run_case(*given).word == "passed"
    assert len(ran) == 2
    ran.clear()
    assert run_case(exercise, exercise.cases[0], "def (", Leave()).word == "could not run"
    assert len(ran) == 1, "which no machine can run"
