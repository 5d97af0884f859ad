"""What is said of a text before it runs, and the same place in a text that has been changed."""

from __future__ import annotations

from pathlib import Path

import pytest
from conftest import Record

from eelgrass.reading.alignment import matched_lines, same_place
from eelgrass.runs.programs.diagnostics import diagnostics


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("if level > 3\n    pass\n", [(1, "A colon is missing")]),
        ("print('reef)\nlevel = (1,\n", [(1, "A quotation mark is missing"), (2, "The bracket “(” is opened here")]),
        ("for bed in beds:\nshoots = 1\n", [(2, "What belongs to the 'for' statement of line 1")]),
        ("level = 1\n  mud = 2\n", [(2, "This line is indented further")]),
        ("while level = 3:\n    pass\nreturn\n", [(1, "“=” gives a name"), (3, "“return” only makes sense")]),
        ("print 'reef'\n", [(1, "“print” is a function")]),
        ("if 1:\n    pass\nelse if 2:\n    pass\n", [(3, "Another condition begins with “elif”")]),
        ("level = 3 +\n", [(1, "Python does not understand this")]),
        ("if level = 3:\n    pass\n", [(1, "“=” gives a name a value")]),
    ],
)
def test_errors_are_all_found_and_explained(text: str, told: list[tuple[int, str]]) -> None:
    found = diagnostics(text)
    assert [remark.line for remark in found] == [line for line, _ in told]
    for remark, (_, beginning) in zip(found, told, strict=True):
        assert remark.is_error
        assert remark.sentence.startswith(beginning), remark.sentence
        assert remark.sentence.endswith(".")


def test_warnings_are_quiet_and_plain() -> None:
    text = (
        "import math\n\ndef weigh(load):\n    twice = load * 2\n    return lod\n    print(load)\n\n"
        "if weigh(1) is 3:\n    pass\n"
    )
    assert [(remark.line, remark.sentence, remark.is_error) for remark in diagnostics(text)] == [
        (1, "“math” is imported and never used.", False),
        (4, "“twice” is set here and never used.", False),
        (5, "“lod” is not set anywhere: is it misspelt?", False),
        (6, "This line can never run: the “return” above it leads away.", False),
        (8, "“is” asks whether two things are one; to compare values, write “==”.", False),
    ]
    assert diagnostics("level = 1\nprint(level, __file__)\n") == []


def test_what_is_hardly_meant_is_remarked(tmp_path: Path) -> None:
    text = (
        "import randon\nimport yaml\nprint(randon, yaml)\nlevel = 3\nlevel == 4\ncode = input()\n"
        "if code.isdigit:\n    code.upper\n"
        "while not (code.isalpha and level):\n    level - 1\nunused = 5\nkept = [1]\nkept.append(2)\n'a note'\n"
    )
    assert [(remark.line, remark.sentence) for remark in diagnostics(text)] == [
        (1, "There is no module “randon” here: is “random” meant?"),
        (5, "This line only compares, and that goes nowhere; a value is given so: level = 4"),
        (7, "“code.isdigit” is not called here, and so always true: write “code.isdigit()”."),
        (8, "“code.upper” is named here, but not called: brackets are missing."),
        (9, "“code.isalpha” is not called here, and so always true: write “code.isalpha()”."),
        (10, "What this line works out goes nowhere: nothing stores it, prints it or hands it on."),
        (11, "“unused” is set here and never used."),
    ]
    (tmp_path / "randon.py").touch()
    own = "import randon\nprint(randon)\n"
    assert diagnostics(own, tmp_path) == []
    assert [its.line for its in diagnostics(own, tmp_path / "elsewhere")] == [1]
    fields = "class Bed:\n    def __init__(self):\n        self.isdigit = 3\nif Bed().isdigit:\n    print(1)\n"
    assert diagnostics(fields) == []
    assert diagnostics("try:\n    int('x') + 1\nexcept ValueError:\n    print(1)\n") == []
    assert diagnostics("LEVELS = [3]\nNAMES = ['reef']\ndef first():\n    return LEVELS[0]\n") == []


def test_lines_are_found_again_in_a_changed_text() -> None:
    old = "level = 1\nfor bed in range(3):\n    level += bed\nprint(level)\n"
    new = "# counts\nlevel = 1\nfor bed in range(3):\n    level -= bed\n\nprint(level)\n"
    assert matched_lines(old, new) == {1: 2, 2: 3, 3: 4, 4: 6, 5: 7}
    assert matched_lines("a\nb\nc", "a\nB\nc") == {1: 1, 2: 2, 3: 3}


def test_the_reader_stands_at_the_same_visit_or_is_told_why_not(record: Record) -> None:
    old = record("level = 1\nfor bed in range(3):\n    level += bed\nprint(level)\n")
    visits = old.visits.of_line(0, 3).tolist()
    longer = record("# counts\nlevel = 1\nfor bed in range(9):\n    level += bed\nprint(level)\n")
    assert [same_place(old, step, longer).step for step in visits] == longer.visits.of_line(0, 4).tolist()[:3]
    shorter = record("level = 1\nfor bed in range(2):\n    level += bed\nprint(level)\n")
    found = same_place(old, visits[2], shorter)
    assert found.step == shorter.visits.of_line(0, 3).tolist()[-1]
    assert "only 2 times" in found.why
    never = record("level = 1\nfor bed in range(0):\n    level += bed\nprint(level)\n")
    assert "does not run" in same_place(old, visits[0], never).why
    gone = record("level = 1\nprint(level)\n")
    assert "is gone" in same_place(old, visits[0], gone).why
    end = same_place(old, old.stepping.last(), longer)
    assert (end.step, end.why) == (longer.stepping.last(), "")
