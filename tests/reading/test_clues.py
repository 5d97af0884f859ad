"""Clues: each kind on its own two programs, all of them on those that were tuned on; and that none says what is not so.

What is published is measured on the programs in `held_out`, by `./bench clues`."""

from __future__ import annotations

import json
import os
import runpy
from collections.abc import Callable
from pathlib import Path

import pytest
from click.testing import CliRunner
from conftest import Record
from support import first_year, mistakes
from support.clue_programs import FIRST, clues_of, is_named, output_of, program, programs_of, recording_of
from support.runs import CORPUS, lines_for, run_of

from eelgrass.cli.main import main
from eelgrass.lessons.cases.call_only import alone
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.judging.case_clues import Model, case_clues
from eelgrass.lessons.judging.judging import first_wrong_character
from eelgrass.reading.clues.catalogue import all_kinds, families
from eelgrass.reading.clues.clue import LIKELY, Kind
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.finding import find_clues, stands
from eelgrass.reading.clues.strengths import GoesWrong, beside_right_runs
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording
from eelgrass.trace.files import recording_file

_LONG = bool(os.environ.get("EELGRASS_LONG"))


def _refuted(recording: Recording) -> list[tuple[str, str]]:
    """The evidence of all sightings that the recording does not bear out."""
    facts = Facts(recording)
    return [
        (kind.id, its.text)
        for kind in all_kinds()
        for sighting in kind.find(facts)
        for its in sighting.evidence
        if not stands(facts, its)
    ]


@pytest.mark.parametrize("kind", all_kinds(), ids=lambda kind: kind.id)
def test_a_kind_finds_its_mistake_and_leaves_the_sound_twin_alone(kind: Kind, tmp_path: Path) -> None:
    faulty = program(kind.id, kind.faulty, kind.typed)
    recording = recording_of(faulty, tmp_path / "faulty")
    twin = recording_of(program("", kind.twin, kind.typed), tmp_path / "twin")
    clues = find_clues(recording) if kind.is_seen_alone else case_clues(recording, Case("", output=output_of(twin)))
    assert faulty.line in [its.line for its in clues if its.kind == kind.id]
    assert faulty.line in [its.line for its in clues[:FIRST]]
    assert not _refuted(recording)
    assert all(its.text.endswith("?") for its in clues), "a clue asks, and does not say what to type"
    assert all(one.checks for its in clues for one in its.evidence), "each piece of evidence rests on something"
    assert [its for its in find_clues(twin) if its.strength >= LIKELY or its.kind == kind.id] == []


def test_the_catalogue_is_whole_and_the_manual_tells_it() -> None:
    told = runpy.run_path(str(Path(__file__).parents[2] / "scripts" / "make_clue_page.py"))
    assert told["PAGE"].read_text("utf-8") == told["page"](), "scripts/make_clue_page.py writes it anew"
    ids = [kind.id for kind in all_kinds()]
    assert len(ids) == len(set(ids)) >= 40
    assert all(its and name for name, its in families().items())
    assert all((kind.title, kind.needs, kind.strength) and kind.faulty.count("#!") == 1 for kind in all_kinds())


@pytest.mark.parametrize("part", range(4))
def test_what_was_tuned_on_stays_as_it_is(part: int, tmp_path: Path) -> None:
    for number, its in enumerate(list(programs_of("tuned"))[part::4]):
        clues = clues_of(its, tmp_path / str(number))
        assert all(one.checks for clue in clues for one in clue.evidence), "each piece of evidence rests on something"
        assert is_named(its, clues) if its.kind else not clues, its.text


@pytest.mark.parametrize("seed", range(300, 400 if _LONG else 303))
def test_no_clue_says_what_is_not_so(seed: int, tmp_path: Path) -> None:
    made = first_year.program(seed)
    assert not _refuted(recording_of(program("", made.text, tuple(made.typed.decode().splitlines())), tmp_path / "run"))


@pytest.mark.parametrize("name", [path.name for path in sorted(CORPUS.glob("*.py"))][:: 1 if _LONG else 9])
def test_no_clue_says_what_is_not_so_of_the_corpus(name: str) -> None:
    assert not _refuted(Recording(run_of(CORPUS / name, lines_for(CORPUS / name))))


#: Programs of so many passes that not all of them are looked at, and what a clue says of all of them.
_OF_ALL = {
    "only-last-kept": ("for level in range(1000):\n    total = level\nprint(total)\n", "each of 1000 passes"),
    "set-back-in-loop": ("for n in range(1000):\n    total = 0\n    total += n\nprint(total)\n", "1000 times"),
    "counts-from-one": ("count = 1\nfor n in range(1000):\n    count += 1\nprint(count)\n", "counted 1000 times"),
    "start-value": (
        "low = 0\nfor n in range(1, 1001):\n    if n < low:\n        low = n\nprint(low)\n",
        "the 1000 values (",
    ),
    "times-nothing": ("ways = 0\nfor n in range(1000):\n    ways *= n\nprint(ways)\n", "multiplied 1000 times"),
    "divided-by-fixed": ("total = 0\nfor n in range(1000):\n    total += n\nprint(total / 4)\n", "1000 were added up"),
    "parameter-stored": (
        "def fill(n):\n    for _ in range(1000):\n        n = n + 1\ntank = 5\nfill(tank)\nprint(tank)\n",
        "makes “n” 1005",
    ),
    "past-the-end": (
        "n = 0\nfor _ in range(90):\n    try: int('x')\n    except ValueError: n += 1\nprint([4][n])\n",
        "asks for place 90",
    ),
}


@pytest.mark.parametrize("kind", _OF_ALL)
def test_what_a_clue_says_of_all_passes_is_so_of_all(kind: str, record: Record) -> None:
    text, said = _OF_ALL[kind]
    assert [said in its.text for its in find_clues(record(text)) if its.kind == kind] == [True]


#: Programs, and what is, or is not, so in them: (kind, text, what its sentence says; '' that there is none).
_SO = [
    ("no-end-in-sight", "n = 9\nwhile n > 0:\n    n = 8\n", "line 3 sets “n” to 8 again and again"),
    ("no-end-in-sight", "n = 9\nwhile n > 0:\n    n = n - 1\n    n = 8\n", "stays 8. What would"),
    ("no-end-in-sight", "n = m = 9\nwhile n:\n    if m == 9:\n        n = 8\n    m = 0\n", "“n” stays 8. What"),
    ("no-end-in-sight", "n = m = 9\nwhile n:\n    m = n\nn, m = m, 0\n", "line 4, which changes “n”, stands behind"),
    ("stays-the-same", "n, m = 0, 4\nfor i in range(99):\n    n = m\n    m = 4 + i // 60\nprint(n)\n", ""),
    ("stays-the-same", "n = 0\nfor i in range(99):\n    n = 4\nprint(n)\n", "set it to 4 99 times"),
    ("not-yet-set", "print(n)\nn = 4\n", "reads “n” before line 2"),
    ("not-yet-set", "n = 4\ndel n\nprint(n)\n", ""),
    ("leaves-at-once", "n = 4\nwhile n > 2:\n    n = 1\n    break\n", ""),
    ("leaves-at-once", "n = 4\nwhile n > 2:\n    n = 3\n    break\n", "though “n > 2” was still true"),
    ("method-gives-nothing", "class A:\n    def __eq__(self, other):\n        print(1)\nprint(A() == A())\n", "a bool"),
    ("method-gives-nothing", "class A:\n    def __eq__(self, other):\n        return True\nprint(A() == A())\n", ""),
]


@pytest.mark.parametrize(("kind", "text", "said"), _SO)
def test_what_a_clue_says_is_so(kind: str, text: str, said: str, record: Record) -> None:
    found = [its.text for its in find_clues(record(text, max_steps=2_000)) if its.kind == kind]
    assert [said in its for its in found] == ([True] if said else [])


def test_how_often_something_was_printed_in_a_loop_is_counted(record: Record) -> None:
    text = "n = 0\nfor i in range(9):\n    n += i\n    if i % 3 == 0:\n        continue\n    print(n)\n"
    (told,) = case_clues(record(text), Case("", output="36\n"))
    assert "prints “n” in 6 of 9 passes" in told.text


_SEEN_BY_OTHERS = """\
level = 0
def show():
    print(level)
for n in [3, 5, 8]:
    level = n
    show()
print(level)
---
def main():
    shown = lambda: print(total)
    for n in [3, 5]:
        total = n
        shown()
    print(total)
main()
---
def main():
    def shown():
        print(total)
    for n in [3, 5]:
        total = 0
        total += n
        shown()
    print(total)
main()
---
count = 1
def show():
    print(count)
for n in "ab":
    show()
    count += 1
print(count)
---
water = ""
def tell():
    print(water)
if 4 > 3:
    water = "high"
    tell()
if 4 > 2:
    water = "low"
print(water)
---
count = 7
def main():
    count = 0
    def tell():
        print(count)
    count = 5
    tell()
main()
print(count)
"""


@pytest.mark.parametrize("text", _SEEN_BY_OTHERS.split("---\n"))
def test_what_other_functions_see_is_not_said_to_be_unread(text: str, record: Record) -> None:
    assert find_clues(record(text)) == []


_TWO = """\
spare = []
shared = spare
shared.append(3)
print(spare)
depths = [4, 2]
for place in range(len(depths) - 1):
    print(depths[place])
print(depths[5])
"""


def test_what_lies_on_the_trail_of_an_exception_counts_more(record: Record) -> None:
    past, *others = find_clues(record(_TWO))
    assert (past.kind, past.line) == ("past-the-end", 8)
    assert [(its.kind, its.line) for its in others] == [("two-names", 2)]
    assert past.strength > 0.9 > others[0].strength, "the one far from the trail counts less than its evidence alone"


def test_what_lies_on_the_trail_of_a_wrong_output_counts_more(record: Record) -> None:
    recording = record(_TWO.replace("print(depths[5])\n", ""))
    alone = {its.kind: its.strength for its in find_clues(recording)}
    wrong = first_wrong_character(Case("spare", output="[]\n4\n"), "[3]\n4\n")
    assert wrong == 1
    beside = {its.kind: its.strength for its in find_clues(recording, wrong=GoesWrong(wrong))}
    assert beside["two-names"] > alone["two-names"]
    assert first_wrong_character(Case("spare", output="[3]\n4\n"), "[3]\n4") is None
    assert first_wrong_character(Case("spare", output="[3]\n4\n5"), "[3]\n4") is None, "nothing wrong is printed yet"
    tides = Case("tides", pattern="*lowest: 88*highest: 102")
    assert first_wrong_character(tides, "Tide?\nlowest: 88, highest: 95\n") == len("Tide?\nlowest: 88, highest: ")
    assert first_wrong_character(tides, "Tide?\n") is first_wrong_character(tides, "lowest: 88 highest: 102") is None


def test_what_is_there_where_nothing_goes_wrong_counts_less(record: Record) -> None:
    clues = find_clues(record(_TWO))
    past, two = beside_right_runs(clues, [[its for its in clues if its.kind == "two-names"]])
    assert (past.strength, two.strength) == (clues[0].strength, round(clues[1].strength * 0.6, 2))


def _model(run: Recording) -> Model:
    return Model(run, find_clues(run))


_SIZES = "def size(shoots):\n    if shoots {0} 30:\n        return 'dense'\n    return 'thin'\n"
_AT_THE_BOUND = Case("", call="size(30)", result="'dense'")


def test_a_wrong_result_and_a_model_say_where_to_ask_what_can_be_meant_either_way(record: Record) -> None:
    wrong, right = (record(alone(_SIZES.format(sign), "size(30)")) for sign in (">", ">="))
    assert find_clues(wrong) == [], "the run alone does not say what was meant"
    (told,) = case_clues(wrong, _AT_THE_BOUND)
    assert (told.kind, told.line) == ("equal-at-the-bound", 2)
    assert case_clues(right, _AT_THE_BOUND, lambda: _model(right)) == []
    raised = record(_SIZES.format(">") + "print(size(30))\nraise ValueError")
    said_nothing = Case("", output="dense\n")
    assert [
        its.kind
        for its in case_clues(raised, said_nothing, lambda: _model(record(_SIZES.format(">=") + "print(size(30))")))
    ] == ["equal-at-the-bound"]


def test_a_broken_claim_says_where_to_ask(record: Record) -> None:
    text = _SIZES.format(">") + "told = size(30)\nprint(told)\n"
    (told,) = case_clues(record(text), Case("", claims=("told == 'dense'",)))
    assert (told.kind, told.line) == ("equal-at-the-bound", 2)


def test_what_the_model_does_as_well_counts_less(record: Record) -> None:
    here, model = record(_TWO), record("# another text\n" + _TWO.replace("print(depths[5])\n", ""))
    alone_, beside = (
        {its.kind: its.strength for its in found}
        for found in (find_clues(here), case_clues(here, Case("", output="[]\n4\n"), lambda: _model(model)))
    )
    assert beside["two-names"] < alone_["two-names"]


def test_mistakes_made_in_sound_programs_are_named(tmp_path: Path) -> None:
    """The short form of `./bench clues mistakes`."""
    sound = [its for its in programs_of("tuned") if not its.kind][7::11]
    found = [one for n, its in enumerate(sound) for one in mistakes.found_in(its.text, its.typed, tmp_path / str(n), 9)]
    named = [sum(any(its.line in one for one in ways[way]) for its, ways in found) for way in range(3)]
    assert len(found) > 20
    assert named[0] >= len(found) * 0.5, "by the run alone"
    assert named[2] >= len(found) * 0.75, "beside the model"


def test_kinds_can_be_left_out_and_the_search_given_up(record: Record) -> None:
    recording = record(_TWO)
    assert [its.kind for its in find_clues(recording, without=["past-the-end"])] == ["two-names"]
    progress = Progress()
    progress.give_up()
    assert find_clues(recording, progress) == []


def test_how_much_is_looked_at_does_not_grow_with_the_run(record: Record, monkeypatch: pytest.MonkeyPatch) -> None:
    asked: list[int] = []
    value = Facts.value

    def counted(facts: Facts, *arguments: object, **others: object) -> object:
        asked[-1] += 1
        kept: Callable[..., object] = value
        return kept(facts, *arguments, **others)

    monkeypatch.setattr(Facts, "value", counted)
    text = (
        "rows = []\nfor n in range({0}):\n    row = rows\n    row.append(n)\n    if row[n] == '4':\n        print(n)\n"
    )
    for count in (100, 1_600):
        asked.append(0)
        find_clues(record(text.format(count)))
    assert asked[1] <= asked[0] * 1.2


def test_the_shell_tells_clues_as_json(tmp_path: Path, record: Record) -> None:
    path = tmp_path / "two.eelrec"
    recording_file.save(record(_TWO).trace, path)
    told = CliRunner().invoke(main, ["clues", str(path)])
    assert told.exit_code == 0
    past, _ = map(json.loads, told.output.splitlines())
    assert {key: past[key] for key in ("kind", "line", "step")} == {"kind": "past-the-end", "line": 8, "step": 9}
    assert past["text"].startswith("At line 8, “depths[5]” asks for place 5 of “depths”, which has 2 elements")
    assert [(its["line"], set(its)) for its in past["evidence"]] == [(8, {"step", "line", "text"})] * 2
    assert len(CliRunner().invoke(main, ["clues", str(path), "--least", "0.8"]).output.splitlines()) == 1
    assert CliRunner().invoke(main, ["clues", str(path), "--least", "1"]).exit_code == 1
    assert "no kind of clue “comets”" in CliRunner().invoke(main, ["clues", str(path), "--without", "comets"]).output
