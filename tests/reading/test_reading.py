"""What `eelgrass.reading` answers about small recordings whose every step can be worked out by hand."""

from __future__ import annotations

import pytest
from conftest import Record

from eelgrass.export import json_rows
from eelgrass.reading.recording import Recording
from eelgrass.reading.stack.rows import ReturnRow, UnsetRow, ValueRow
from eelgrass.reading.state import value_text
from eelgrass.reading.state.call_stack import frames_at
from eelgrass.reading.state.output import number_past, prompt
from eelgrass.reading.stepping.loops import Pass
from eelgrass.trace.model import FrameEnd
from eelgrass.trace.values import NOT_SET

SURVEY = """\
def mean(levels):
    total = 0
    for level in levels:
        if level > 9:
            continue
        total += level
    return total / len(levels)

pier = [2, 4]
low = mean(pier)
del low
print("mean", mean([10, 3]))
"""


def lines(recording: Recording, steps: list[int]) -> list[int]:
    return [recording.trace.line_of(step) for step in steps]


def walk(recording: Recording, move: str, start: int, most: int = 100) -> list[int]:
    """The steps that repeating one move leads through, until it leads nowhere."""
    steps = [start]
    while len(steps) < most:
        step = getattr(recording.stepping, move)(steps[-1])
        if step == steps[-1]:
            break
        steps.append(step)
    return steps


def test_on_stays_on_its_level_and_goes_through_the_module(record: Record) -> None:
    recording = record(SURVEY)
    steps = walk(recording, "next_line", recording.stepping.first())
    assert lines(recording, steps) == [1, 9, 10, 11, 12, 12]
    assert walk(recording, "previous_line", steps[-1]) == steps[::-1]


def test_into_a_call_and_out_again(record: Record) -> None:
    recording = record(SURVEY)
    call = int(recording.visits.of_line(0, 10)[0])
    inside = recording.stepping.into(call)
    assert recording.trace.line_of(inside) == 2
    assert recording.trace.line_of(recording.stepping.out(inside)) == 11
    assert recording.stepping.call_of(inside) == call
    assert recording.trace.line_of(recording.stepping.into(inside)) == 3, "no call here: into is the next line"
    assert lines(recording, walk(recording, "next_line", inside))[:10] == [2, 3, 4, 6, 3, 4, 6, 3, 7, 7]


def test_every_line_forward_and_back_is_the_same_way(record: Record) -> None:
    recording = record(SURVEY)
    forward = walk(recording, "next_any", recording.stepping.first())
    assert forward[-1] == recording.stepping.last()
    assert walk(recording, "previous_any", forward[-1]) == forward[::-1]


def test_state_shows_scopes_unassigned_and_deleted_names(record: Record) -> None:
    recording = record(SURVEY)
    step = recording.stepping.into(int(recording.visits.of_line(0, 10)[0]))
    module, frame = frames_at(recording.trace, step)
    assert [scope.title for scope in frame.scopes] == ["parameters", "local"]
    assert {binding.name: binding.value for binding in frame.scopes[1].bindings} == {"total": NOT_SET, "level": NOT_SET}
    assert [binding.name for binding in module.scopes[0].bindings] == ["mean", "pier", "low"]
    after = int(recording.visits.of_line(0, 12)[0])
    low = frames_at(recording.trace, after)[0].scopes[0].bindings[2]
    assert (low.name, low.value, low.deleted) == ("low", NOT_SET, True)


def test_a_return_stop_knows_the_value_handed_back(record: Record) -> None:
    recording = record(SURVEY)
    returns = int(recording.visits.of_line(0, 7)[0])
    stop = recording.stepping.next_in_frame(returns)
    value = frames_at(recording.trace, stop)[-1].returns
    assert value_text.text(recording.trace, value, stop) == "3.0"


def test_visits_count_so_far_and_in_all_and_never(record: Record) -> None:
    recording = record(SURVEY)
    step = int(recording.visits.of_line(0, 6)[1])
    counts = recording.visits.counts(0, step)
    assert (counts[6].so_far, counts[6].in_all) == (2, 3)
    assert (counts[5].so_far, counts[5].in_all) == (0, 1)
    assert recording.visits.nearest(0, 6, 0) == int(recording.visits.of_line(0, 6)[0])
    assert recording.visits.nearest(0, 8, 0) == -1


def test_passes_of_a_loop_that_runs_twice(record: Record) -> None:
    recording = record(
        "for bed in range(2):\n    for shoot in range(3):\n        if shoot == 1 and bed == 1:\n            break\n"
    )
    told = [recording.loops.pass_at(int(step)) for step in recording.visits.of_line(0, 2)]
    assert [(its.number, its.in_all) for its in told if its] == [(1, 3), (2, 3), (3, 3), (0, 3), (1, 2), (2, 2)]
    at_if = [recording.loops.pass_at(int(step)) for step in recording.visits.of_line(0, 3)]
    assert [(its.number, its.in_all) for its in at_if if its] == [(1, 3), (2, 3), (3, 3), (1, 2), (2, 2)]
    assert recording.loops.pass_at(recording.stepping.last()) == Pass(0, 2)


def test_margin_notes_tell_what_lines_did(record: Record) -> None:
    recording = record(SURVEY)
    notes = {line: recording.line_notes.of_line(0, line, recording.stepping.last()) for line in range(1, 13)}
    told = {line: note.text for line, note in notes.items() if note}
    assert told == {
        2: "total ← 0",
        3: "ends after 2 passes",
        4: "3 > 9 is false",
        6: "total ← 3",
        7: "gives back 1.5",
        9: "pier ← [2, 4]",
        10: "low ← 3.0",
        11: "low deleted",
        12: "printed 'mean 1.5'",
    }
    inside = recording.stepping.into(int(recording.visits.of_line(0, 12)[0]))
    within = recording.line_notes.of_line(0, 12, inside)
    assert within is not None
    assert within.text == "in this call"


def test_notes_name_elements_fields_and_exceptions(record: Record) -> None:
    recording = record(
        "class Crab:\n    pass\ncrab = Crab()\ncrab.tag = 'mo'\nbeds = {'pier': [1]}\nbeds['pier'].append(2)\n"
        "beds['reef'] = 3\ntry:\n    beds['mud']\nexcept KeyError:\n    pass\n"
    )
    notes = {line: recording.line_notes.of_line(0, line, recording.stepping.last()) for line in range(1, 12)}
    told = {line: (note.text, note.trouble) for line, note in notes.items() if note}
    assert told[4] == ("crab.tag ← 'mo'", False)
    assert told[6] == ("beds['pier'][1] ← 2", False)
    assert told[7] == ("beds['reef'] ← 3", False)
    assert told[9] == ("raises KeyError", True)


def test_notes_use_the_words_of_their_line(record: Record) -> None:
    recording = record(
        "rota = {}\ncrew = [[], ['Ana']]\n"
        "def put(day, people):\n    rota[day] = people\n    mates = crew[0]\n    mates.append(day)\n"
        "class Dock:\n    def land(self, boat, word):\n        self.fleet = []\n        self.fleet.append(boat)\n"
        "        if word[0:2] == 'ab':\n            pass\n"
        "        if (len(word) > 9 or\n                boat is None):\n            pass\n"
        "        docked = False\n        if docked:\n            pass\n"
        "put('Tue', 'Bo')\nDock().land('eel', 'abacus')\n"
    )
    notes = {line: recording.line_notes.of_line(0, line, recording.stepping.last()) for line in (4, 6, 10, 11, 13, 17)}
    assert {line: note.whole for line, note in notes.items() if note} == {
        4: "rota['Tue'] ← 'Bo'",
        6: "mates[0] ← 'Tue'",
        10: "self.fleet[0] ← 'eel'",
        11: "'abacus'[0:2] == 'ab' is true",
        13: "len('abacus') > 9 or 'eel' is None: false",
        17: "is false",
    }


def test_a_closed_list_says_which_of_its_elements_are_one_object(record: Record) -> None:
    nights = "nights = {'Mon': sky[0], 'Tue': [0, 0], 'Wed': sky[0]}\n"
    recording = record(f"sky = [[0, 0]] * 3\n{nights}two = (sky, 5, sky)\nlast = [sky[0]]\n")
    rows = {row.name: row for row in recording.stack_rows.at(len(recording.trace.steps) - 1)[0].rows}
    tag, whole = rows["sky"].cells[0].tag, rows["sky"].tag
    assert tag
    assert whole
    assert [(cell.text, cell.tag) for cell in rows["sky"].cells] == [("[0, 0]", tag)] * 3
    assert rows["nights"].text == f"{{'Mon': {tag}→[0, 0], 'Tue': [0, 0], 'Wed': {tag}→[0, 0]}}"
    assert [part.partition("→")[0] for part in rows["two"].text.split(whole)] == ["(", "", ""]
    assert [cell.tag for cell in rows["last"].cells] == [None]


def test_layers_show_was_and_now_tags_and_opened_containers(record: Record) -> None:
    recording = record("first = ['mo']\nsecond = first\nlevel = 1\nlevel = 2\nsecond.append('ti')\nlast = 0\n")
    at = {line: int(recording.visits.of_line(0, line)[0]) for line in range(1, 7)}
    rows = {row.name: row for row in recording.stack_rows.at(at[5])[0].rows}
    assert (rows["level"].was, rows["level"].text, rows["level"].changed) == ("1", "2", True)
    assert rows["first"].tag == rows["second"].tag == "mo"
    assert isinstance(rows["last"], UnsetRow)
    assert [cell.text for cell in rows["first"].cells] == ["'mo'"]
    path = rows["first"].path
    after = recording.stack_rows.at(at[6], frozenset({path}))[0].rows
    opened = {row.name: row for row in after if row.indent == 1}
    assert [(row.name, row.text) for row in opened.values()] == [("[0]", "'mo'"), ("[1]", "'ti'")]
    second = next(row for row in after if row.name == "second")
    assert second.changed, "a change made through one name is marked under the other"
    assert [cell.changed for cell in second.cells] == [False, True]
    before = recording.stack_rows.at(at[2])[0].rows
    assert next(row for row in before if row.name == "first").tag is None, "one name alone needs no tag"


def test_long_containers_come_a_page_at_a_time(record: Record) -> None:
    recording = record("beds = list(range(120))\nend = 1\n")
    step = recording.stepping.last()
    closed = recording.stack_rows.at(step)[0].rows[0]
    assert (closed.type_word, closed.can_open) == ("list of 120", True)
    rows = recording.stack_rows.at(step, frozenset({closed.path}))[0].rows
    assert [row.name for row in rows[49:52]] == ["[48]", "[49]", "and 70 more"]
    opened = frozenset({closed.path, rows[51].path})
    rows = recording.stack_rows.at(step, opened)[0].rows
    assert [row.name for row in rows[100:102]] == ["[99]", "and 20 more"], "another page"


def test_fields_of_the_class_stand_apart(record: Record) -> None:
    recording = record(
        "class Ferry:\n    seats = 3\n    name = 'none'\n    def board(self):\n        pass\n"
        "ferry = Ferry()\nferry.name = 'Plover'\nend = 0\n"
    )
    step = recording.stepping.last()
    ferry = next(row for row in recording.stack_rows.at(step)[0].rows if row.name == "ferry")
    rows = recording.stack_rows.at(step, frozenset({ferry.path}))[0].rows
    told = [(row.name, row.text if isinstance(row, ValueRow) else "") for row in rows[1:4]]
    assert told == [(".name", "'Plover'"), ("of the class Ferry", ""), (".seats", "3")]


def test_output_stands_as_it_was_and_input_is_in_its_place(record: Record) -> None:
    recording = record("name = input('Who? ')\nprint('hello', name)\nmore = input('More? ')\n", "Kittiwake", "no")
    told = [(piece.text, piece.channel, recording.trace.line_of(piece.step)) for piece in recording.output]
    assert told == [
        ("Who? ", 1, 1),
        ("Kittiwake\n", 0, 1),
        ("hello Kittiwake\n", 1, 2),
        ("More? ", 1, 3),
        ("no\n", 0, 3),
    ]
    assert prompt(recording.trace) == ""
    second = int(recording.visits.of_line(0, 2)[0])
    assert number_past(recording.trace, recording.output, second) == 2
    assert number_past(recording.trace, recording.output, recording.stepping.last()) == 5


def test_the_tide_line_shows_depth_and_frames(record: Record) -> None:
    recording = record(SURVEY)
    timeline = recording.timeline
    assert timeline.deepest == 1
    assert [(body.name, body.depth) for body in timeline.bodies(2)] == [("program", 0), ("mean", 1), ("mean", 1)]
    assert (
        timeline.profile_between(0, timeline.length, 10_000).tolist()
        == recording.trace.depths[recording.trace.steps.frame].tolist()
    )
    assert timeline.profile_between(0, timeline.length, 2).tolist() == [1, 1]
    assert len(timeline.outputs()) == 1


def test_a_very_deep_stack_shows_its_two_ends_and_exceptions_where_they_begin(record: Record) -> None:
    recording = record(
        "def dive(depth):\n    if depth == 90:\n        raise ValueError(depth)\n    dive(depth + 1)\n"
        "try:\n    dive(0)\nexcept ValueError as error:\n    print(error)\n"
    )
    deepest = int(recording.visits.of_line(0, 3)[0])
    titles = [layer.title for layer in recording.stack_rows.at(deepest)]
    assert titles == ["module", "dive", "dive", "65 more calls, of dive", *["dive"] * 24]
    assert [recording.trace.line_of(int(step)) for step in recording.timeline.exceptions()] == [3, 6]
    note = recording.line_notes.of_line(0, 8, recording.stepping.last())
    assert note is not None
    assert note.text == "printed '90'", "the name that the handler loses is no news"


def test_state_as_data_nests_fields_and_survives_circles(record: Record) -> None:
    recording = record("class Bed:\n    pass\nbed = Bed()\nbed.near = bed\nbed.shoots = [1]\nend = 0\n")
    state = json_rows.full_state(recording.trace, recording.stepping.last())
    bed = state["frames"][0]["scopes"]["module"]["bed"]
    assert bed["type"] == "Bed"
    assert bed["fields"]["shoots"]["text"] == "[1]"
    assert bed["fields"]["near"]["object"] == bed["object"]
    assert "fields" not in bed["fields"]["near"]
    with pytest.raises(IndexError):
        json_rows.full_state(recording.trace, 10_000)


SUSPENDED = """\
def readings(first):
    level = first
    while True:
        change = yield level
        level = level + change


def walk(start):
    gauge = readings(start)
    seen = [next(gauge)]
    seen.append(gauge.send(5))
    return seen


print(walk(4))
"""


def test_a_generator_stands_on_the_stack_of_whoever_resumed_it(record: Record) -> None:
    recording = record(SUSPENDED)
    trace, places = recording.trace, recording.stepping
    inside = [
        step for step in places.stops.tolist() if trace.function_of_frame(places.frame_of(step)).name == "readings"
    ]
    stacks = [
        [(layer.title, trace.line_of(layer.step)) for layer in recording.stack_rows.at(step)[1:]] for step in inside
    ]
    assert stacks[:8] == [  # then it is closed, when nobody has it any more
        *([("walk", 10), ("readings", line)] for line in (2, 3, 4, 4)),
        *([("walk", 11), ("readings", line)] for line in (5, 3, 4, 4)),
    ]
    waits = inside[3]
    assert [row.text for row in recording.stack_rows.at(waits)[-1].rows if isinstance(row, ReturnRow)] == ["4"]
    notes = [
        recording.line_notes.of_visit(step, shown) for step, shown in ((inside[2], waits), (inside[2], inside[4] + 1))
    ]
    assert [note.text for note in notes if note] == ["hands out 4, waits", "change ← 5"]
    # Where it waits, On leads to the one who asked; back from where it goes on leads to the call.
    assert trace.line_of(places.next_line(waits)) == 11
    assert trace.line_of(places.into(places.next_line(waits))) == 5
    assert trace.line_of(places.previous_line(inside[4])) == 11


def test_each_closure_has_its_own_enclosing_names(record: Record) -> None:
    recording = record(
        "def make(count):\n    def tick():\n        nonlocal count\n        count += 1\n        return count\n"
        "    return tick\n"
        "reef, mud = make(0), make(100)\nprint(reef(), mud(), reef())\n"
    )
    trace = recording.trace
    returns = [
        step for step in recording.stepping.stops.tolist() if trace.line_of(step) == 5 and trace.steps.kind[step] == 2
    ]
    shown = [
        {row.name: row.text for row in recording.stack_rows.at(step)[-1].rows if isinstance(row, (ValueRow, ReturnRow))}
        for step in returns
    ]
    assert [row["count"] for row in shown] == ["1", "101", "2"]


def test_calls_inside_of_expressions_tell_their_results_and_exceptions_their_places(record: Record) -> None:
    source = (
        "def weigh(load):\n    return load / (2 - load)\nprint(weigh(1) + abs(-3) + len('mud'))\nweigh(weigh(1) + 1)\n"
    )
    trace = record(source).trace
    told = zip(trace.results.expression.tolist(), trace.results.value.tolist(), strict=True)
    places = [(trace.program.expressions[expression], trace.values.get(value)) for expression, value in told]
    lines = source.split("\n")
    texts = [(lines[place.line - 1][place.column : place.end_column], value) for place, value in places]
    assert ("weigh(1)", 1.0) in texts
    assert [value for text, value in texts if text == "weigh(1)"] == [1.0, 1.0]
    raised = trace.raises
    assert trace.outcome.reason == "ZeroDivisionError: float division by zero, at line 2."
    assert lines[int(raised.line[0]) - 1][int(raised.column[0]) : int(raised.end_column[0])] == "load / (2 - load)"
    assert lines[int(raised.line[1]) - 1][int(raised.column[1]) : int(raised.end_column[1])] == "weigh(weigh(1) + 1)"


def test_frames_that_an_exception_leaves_without_a_word_have_ended(record: Record) -> None:
    trace = record(
        "weigh = lambda load: load / 0\ntry:\n    [weigh(load) for load in (1, 2)]\n"
        "except ZeroDivisionError:\n    pass\n"
    ).trace
    names = [trace.function_of_frame(frame).name for frame in range(len(trace.frames))]
    assert names == ["<module>", "<listcomp>", "<lambda>"]
    assert trace.frames.end.tolist() == [FrameEnd.RETURNED, FrameEnd.RAISED, FrameEnd.RAISED]
    assert trace.line_of(int(trace.frames.last[2])) == 3


def test_each_thread_has_a_stack_of_its_own(record: Record) -> None:
    recording = record(
        "import threading, queue\nbeds = queue.Queue()\ndef count(name):\n    size = beds.get()\n    return size\n"
        "boats = [threading.Thread(target=count, args=(name,)) for name in ('reef', 'mud')]\n"
        "for boat in boats:\n    boat.start()\nfor size in (3, 4):\n    beds.put(size)\n"
        "for boat in boats:\n    boat.join()\n"
    )
    trace = recording.trace
    counts = [frame for frame in range(len(trace.frames)) if trace.function_of_frame(frame).name == "count"]
    assert [int(trace.frames.thread[frame]) for frame in counts] == [1, 2]
    shown = []
    for frame in counts:
        step, thread = int(trace.frames.last[frame]), int(trace.frames.thread[frame])
        stack_rows = recording.stack_rows.at(step)
        titles = [(layer.title, layer.lane) for layer in stack_rows]
        others = [its for its in (1, 2) if its != thread and recording.thread_steps.stack(its, step)]
        assert titles[0] == ("module", -1)
        assert titles[1:] == [(f"Thread-{its} (count): count", its - 1 if others else 0) for its in (*others, thread)]
        assert recording.trace.line_of(recording.stepping.out(step)) == 8, "who started it"
        assert recording.stepping.next_line(step) == step, "moves stay in the thread"
        rows = {row.name: row.text for row in stack_rows[-1].rows if isinstance(row, (ValueRow, ReturnRow))}
        assert rows["size"] == rows["gives back"]
        shown.append((rows["name"], rows["size"]))
    # Which of the two is woken first is nobody's to say.
    assert sorted(name for name, _ in shown) == ["'mud'", "'reef'"]
    assert sorted(size for _, size in shown) == ["3", "4"]
