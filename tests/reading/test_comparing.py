"""Two runs held against each other: nothing where there is nothing, and a planted change where it first matters."""

from __future__ import annotations

import random

import pytest
from conftest import Record
from support import first_year, rewritten
from support.trail_judge import changes

from eelgrass.reading.comparing.alignment import Alignment
from eelgrass.reading.comparing.differences import differences, in_order
from eelgrass.reading.comparing.runs import compare
from eelgrass.reading.recording import Recording

_MEAN = """\
def mean(levels):
    total = 0
    for level in levels:
        if level > 9:
            continue
        total = total + level
    return total / len(levels)

def report(levels):
    print("mean", mean(levels))

report([1, 2, 99, 3])
report([4, 4])
"""


def _program(seed: int) -> str:
    while True:
        its = first_year.program(seed)
        if not (its.typed or its.has_threads or "open(" in its.text or "raise SystemExit" in its.text):
            return its.text
        seed += 1_000


@pytest.mark.parametrize("seed", range(500, 506))
def test_a_run_is_like_itself_and_like_that_of_the_same_text_by_other_names(record: Record, seed: int) -> None:
    text = _program(seed)
    runs = [record(its, seed=1) for its in (text, text, rewritten.renamed(text))]
    assert compare(runs[0], runs[1]).is_same
    found = compare(runs[0], runs[2])
    assert (found.path, found.value) == (None, None)
    assert found.aligned > 5


def test_a_planted_change_is_the_first_difference(record: Record) -> None:
    hits = []
    for seed in range(520, 530):
        text = _program(seed)
        plain = record(text, seed=1)
        for change in list(changes(text, random.Random(seed)))[:4]:
            found = compare(plain, record(change.text, seed=1))
            first = min((its.step_a for its in (found.path, found.value) if its is not None), default=-1)
            statement = plain.trace.statement_of(first) if first >= 0 else None
            if statement is not None and not rewritten.is_default(text, change.literal):
                hits.append(change.literal.lineno in range(statement.line, statement.end_line + 1))
    assert len(hits) > 20
    assert sum(hits) / len(hits) >= 0.9, hits


def test_moved_functions_and_added_prints_differ_in_output_alone(record: Record) -> None:
    mean, report, rest = _MEAN.split("\n\n")
    moved = "\n\n".join((report, mean, rest)).replace("    total = 0\n", "    total = 0\n    print('adding')\n")
    found = compare(record(_MEAN), record(moved))
    assert (found.path, found.value) == (None, None)
    assert found.output is not None
    assert (found.output.character, found.output.text_b) == (0, "adding")


def test_the_first_difference_of_path_is_the_decision(record: Record) -> None:
    plain: Recording = record(_MEAN)
    found = compare(plain, record(_MEAN.replace("> 9", "> 2")))
    assert found.path is not None
    assert (plain.trace.line_of(found.path.step_a), found.value) == (4, None)


def test_runs_without_any_likeness_differ_from_the_beginning(record: Record) -> None:
    found = compare(record("tide = 3\nprint(tide)"), record("import sys\nsys.exit(1)"))
    assert not found.is_same


def _apart(found: Alignment) -> list[tuple[str, int, str]]:
    return [
        (str(its.kind), found.a.trace.line_of(its.here) if its.here >= 0 else 0, its.what) for its in differences(found)
    ]


@pytest.mark.parametrize(
    ("levels", "found"),
    [
        ("[5, 1, 2, 99, 3]", [("value", 3, "level"), ("path", 3, "")]),  # 5 goes before all others
        ("[1, 99, 3]", [("value", 3, "level"), ("path", 3, "")]),
        ("[1, 2, 99, 3, 7]", [("path", 3, "")]),
    ],
)
def test_passes_are_matched_by_what_a_loop_goes_over(
    record: Record, levels: str, found: list[tuple[str, int, str]]
) -> None:
    apart = _apart(Alignment(record(_MEAN), record(_MEAN.replace("[1, 2, 99, 3]", levels))))
    assert apart[0] == ("value", 12, "levels")
    assert apart[1 : 1 + len(found)] == found
    assert sum(kind == "path" for kind, _, _ in apart) == 1


def test_in_passes_matched_by_what_they_go_over_calls_and_loops_are_the_same(record: Record) -> None:
    text = "def down(n):\n    for k in range(n):\n        print(k)\n\nfor n in [4, 2, 3]:\n    down(n)\n"
    found = Alignment(record(text), record(text.replace("[4, 2, 3]", "[4, 1, 2, 3]")))
    assert _apart(found) == [("value", 5, "n"), ("path", 5, "")]
    assert len(found.here) == len(found.runs[0].steps)


def test_ends_and_prints_of_their_own_are_differences(record: Record) -> None:
    plain = record("level = 3\nprint(level)")
    raising = compare(plain, record("level = 3\nprint(level)\nraise ValueError(level)"))
    assert raising.path is not None
    assert raising.ends == ("comes to its end", "ends with ValueError")
    found = differences(Alignment(plain, record("print('first')\nlevel = 3\nprint('then')\nprint(level)\nexit(2)")))
    assert [(its.kind, its.here, its.text_here, its.text_there) for its in found] == [
        ("output", -1, "", "first\n"),
        ("output", 1, "", "then\n"),
        ("path", 2, "comes to its end", "exits with status 2"),
    ]


def test_after_they_part_the_runs_go_on_together(record: Record) -> None:
    plain, changed = record(_MEAN), record(_MEAN.replace("> 9", "> 2"))
    found = Alignment(plain, changed)
    first_call = [("path", 4, ""), ("value", 7, "mean"), ("output", 10, "")]  # 3 is left out there
    assert _apart(found) == [*first_call, ("path", 4, ""), *first_call]  # and so are both fours
    pairs = zip(found.here.tolist(), found.there.tolist(), strict=True)
    assert all(plain.trace.line_of(ours) == changed.trace.line_of(theirs) for ours, theirs in pairs)
    loop = plain.visits.of_line(0, 3).tolist()
    apart = plain.visits.of_line(0, 6).tolist()[2]  # where 3 is added, the other run waits at the decision
    assert changed.trace.line_of(found.counterpart(apart)) == 4
    assert found.is_apart(apart)
    assert not found.is_apart(loop[0])
    assert found.gaps[0][0] == apart
    assert [found.turned().counterpart(its) for its in found.there] == found.here.tolist()
    assert in_order([its.turned() for its in differences(found)]) == differences(found.turned())


@pytest.mark.parametrize("seed", range(540, 546))
def test_all_of_a_run_is_like_itself_and_like_that_of_the_same_text_by_other_names(record: Record, seed: int) -> None:
    text = _program(seed)
    runs = [record(its, seed=1) for its in (text, text, rewritten.renamed(text))]
    for other in runs[1:]:
        found = Alignment(runs[0], other)
        assert [its for its in differences(found) if its.kind != "output"] == []
        assert len(found.here) == len(found.there) > 5


def test_frames_called_from_the_same_place_are_the_same(record: Record) -> None:
    text = "def down(n):\n    return n if n < 1 else down(n - 1)\n\nfor n in range(2):\n    print(down(n))\n"
    found = Alignment(record(text), record(text.replace("n < 1", "n < 2")))
    same = {found.a.trace.function_of_frame(ours).name for ours in found.frames}
    assert same == {"<module>", "down"}
    assert _apart(found) == [("path", 2, ""), ("value", 2, "down"), ("output", 5, "")]


def test_of_several_calls_in_a_statement_each_is_held_against_its_own(record: Record) -> None:
    text = "def kept(levels):\n    return len(levels)\n\nprint([kept([1, 2]), kept([3])])\n"
    found = Alignment(record(text), record(text.replace("[1, 2]", "[1, 5]")))
    assert _apart(found) == [("value", 4, "levels")]


def test_runs_of_which_one_raises_or_has_other_text_are_aligned_as_far_as_they_go(record: Record) -> None:
    plain, raising = record(_MEAN), record(_MEAN.replace("[4, 4]", "[]"))
    found = Alignment(plain, raising)
    assert _apart(found)[0][0] == "value"
    assert ("path", 3, "") in _apart(found)
    strange = Alignment(plain, record("import sys\nsys.exit(1)"))
    assert differences(strange)
    assert 0 <= strange.counterpart(5) < len(strange.b.trace.steps)
