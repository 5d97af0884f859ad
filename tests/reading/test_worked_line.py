"""How a line comes to its result, against what Python does."""

from __future__ import annotations

import ast
from collections.abc import Callable

import pytest
from conftest import Record
from support.programs import PIERS

from eelgrass.reading.expressions.evaluator import Evaluator
from eelgrass.reading.expressions.python_values import CannotAnswerError
from eelgrass.reading.lines.worked_line import Status, Worked
from eelgrass.reading.recording import Recording


def worked(recording: Recording, line: int, visit: int = 0) -> Worked:
    found = recording.worked_lines.at(int(recording.visits.of_line(0, line)[visit]))
    assert found is not None
    return found


def told(recording: Recording, line: int, visit: int = 0) -> list[tuple[str, str]]:
    parts = worked(recording, line, visit).parts
    return [(part.text, part.value if part.status is Status.VALUE else part.status.value) for part in parts]


def test_each_part_has_the_value_that_it_had(record: Record) -> None:
    recording = record(PIERS)
    assert told(recording, 11) == [
        ("crab", "Crab"),
        ("stock", "dictionary of 2"),
        ('stock["reef"]', "[3, 1]"),
        ('len(stock["reef"])', "2"),
        ('crab.weigh(len(stock["reef"]))', "4"),
        ("stock", "dictionary of 2"),
        ('stock["reef"]', "[3, 1]"),
        ('total(stock["reef"])', "6"),
        ('crab.weigh(len(stock["reef"])) + total(stock["reef"])', "10"),
        ("stock", "dictionary of 2"),
        ('stock["reef"]', "[3, 1, 2]"),  # which the call has changed by now
        ('stock["reef"][2]', "2"),
        ('crab.weigh(len(stock["reef"])) + total(stock["reef"]) + stock["reef"][2]', "12"),
    ]
    assert worked(recording, 11).outcome == "weight ← 12"
    assert told(recording, 5)[-1] == ("by * 2", "4")
    assert told(recording, 14) == [("[name.upper() for name in stock]", "['REEF', 'PIER']")]
    assert told(recording, 15)[-2:] == [('stock["pier"][weight % 1]', "4"), ("3 ** 2", "9")]
    assert told(recording, 16)[-1][0] == "sorted(stock.items())"
    assert told(recording, 16, 1) == [], "a later pass only takes the next element"
    assert ("max(levels)", "13") in told(recording, 17)
    assert told(recording, 17)[-1][1] == "\"  'pier' 13\""


def test_what_is_skipped_is_not_evaluated_and_exceptions_end_the_line(record: Record) -> None:
    recording = record(PIERS)
    parts = dict(told(recording, 12))
    assert parts["total([1])"] == "not evaluated"
    assert parts["weight > 100"] == parts["weight > 100 and total([1])"] == "False"
    skipped = [part for part in worked(recording, 12).parts if part.status is Status.SKIPPED]
    assert [part.text for part in skipped] == ["total([1])", "weight"]
    assert worked(recording, 12).outcome == "is false: line 14 is next"
    assert told(recording, 20) == [("stock", "dictionary of 2"), ('stock["mud"]', "raises")]


STATE = """\
one, two = 7, 2.5
word = 'reef'
rows = [3, 1, [2]]
same = rows
fares = {'reef': 1, 'pier': (2, 3)}
end = 0
"""


PURE = """\
one + two * -3
one // 2 ** 3 % 5
word * 2 + 'x'
rows[::-1]
rows[0:2] + [one]
fares['pier'][1]
rows is same
rows == [3, 1, [2]]
rows is not [3]
'ee' in word and word not in fares
1 < one <= 7 != two
len(rows) or 1 / 0
not rows
word.upper().replace('E', 'i')
sorted(fares, reverse=True)
max(rows[:2])
[x * 2 for x in rows[:2] if x > 1]
{k: len(k) for k in fares}
sum(x for x in range(10))
f'{one:>4}|{word!r}'
(one, *rows[:2])
{**fares, 'mud': 0}
rows[one]
word + 1
int('mud')
fares['mud']
one / 0
'%5d' % one
fares.get('mud', one)
word if one > 3 else rows
1 if [] else 2
round(two)
str(rows)
[a for a, b in [(1, 2)]]
reef
"""


TOO_MUCH = """\
9**9**9
'x' * 10**12
1 << 10**9
list(range(10**9))
'%1000000000d' % 1
f'{one:>99999999}'
'{:99999999}'.format(1)
word.zfill(10**9)
[x for x in range(10**6) for y in range(10**6)]
bytes(10**10)
max(range(10**12))
list(zip(range(10**12), range(10**12)))
sum(range(10**30))
[*range(10**12)]
0.5 in range(10**12)
{}.fromkeys(range(10**9))
(1).to_bytes(10**9, 'big')
('\\t' * 10**5).expandtabs(10**6)
{x for x in range(10**12) if x < 0}
'{:{}}'.format('x', 10**9)
rows.append(1)
rows.sort()
open('/etc/passwd')
print(1)
word.__class__
(lambda: 1)()
"""


def test_expressions_give_what_python_gives(record: Record) -> None:
    recording = record(STATE)
    names: dict[str, object] = {}
    exec(STATE, names)

    def answer(work_out: Callable[[], object]) -> object:
        try:
            return repr(work_out())
        except Exception as error:
            return type(error)

    for parse_expression in PURE.splitlines():
        node = ast.parse(parse_expression, mode="eval").body
        evaluator = Evaluator(recording.trace, 0, recording.stepping.last())
        ours = answer(lambda node=node, evaluator=evaluator: evaluator.value(node))  # type: ignore[misc]
        assert ours == answer(lambda parse_expression=parse_expression: eval(parse_expression, names)), parse_expression  # type: ignore[misc]


def test_questions_that_are_too_much_or_would_change_something_are_refused(record: Record) -> None:
    recording = record(STATE)
    for parse_expression in TOO_MUCH.splitlines():
        evaluator = Evaluator(recording.trace, 0, recording.stepping.last())
        with pytest.raises(CannotAnswerError, match=r"\.$"):
            evaluator.value(ast.parse(parse_expression, mode="eval").body)


def test_assignments_inside_methods_not_called_and_what_gives_nothing_have_their_values(record: Record) -> None:
    recording = record(
        "beds = [1]\nbeds.append(2)\nif (many := len(beds)) > 1 and many < 9:\n    print(many)\n"
        "code = '12'\nif code.isdigit:\n    pass\n"
    )
    told = {}
    for step in recording.stepping.stops.tolist():
        worked = recording.worked_lines.at(step)
        told |= {part.text: part.value for part in worked.parts} if worked is not None else {}
    assert told["beds.append(2)"] == told["print(many)"] == "None"
    assert (told["many := len(beds)"], told["many < 9"]) == ("2", "True")
    assert told["code.isdigit"] == "the method isdigit, not called"
