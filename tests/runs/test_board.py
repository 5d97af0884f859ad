"""The simulated board: programs for small devices run, time passes there, and what they show is known at each step."""

from __future__ import annotations

from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings, strategies
from support.board_programs import PROGRAMS, WITHOUT_END
from support.runs import run_of_text

from eelgrass.reading.desk.board_parts import BoardPart, part_of
from eelgrass.reading.handlers import handler_calls
from eelgrass.reading.recording import Recording
from eelgrass.recorder.board import modules
from eelgrass.recorder.contract import BOARD_MODULES
from eelgrass.runs.acts import read_acts
from eelgrass.runs.order import Desk, Leave
from eelgrass.trace.model import Texts, Trace


def _ran(text: str, acts: tuple[str, ...], folder: Path) -> Trace:
    return run_of_text(text, (), folder, desk=Desk(read_acts(acts)), seed=1)


def _output(trace: Trace) -> str:
    assert not "".join(trace.texts.of(Texts.ERRORS))
    return "".join(trace.texts.of(Texts.OUTPUT))


@pytest.mark.parametrize("name", PROGRAMS)
def test_a_program_for_a_device_runs(name: str, tmp_path: Path) -> None:
    text, acts, expected = PROGRAMS[name]
    assert _output(_ran(text, acts, tmp_path)) == expected


def test_a_confined_program_finds_the_board(tmp_path: Path) -> None:
    text, acts, expected = PROGRAMS["a lamp that a button switches"]
    desk = Desk(read_acts(acts))
    assert _output(run_of_text(text, (), tmp_path, desk=desk, seed=1, leave=Leave())) == expected


def test_what_the_board_shows_is_known_at_each_step(tmp_path: Path) -> None:
    text, acts, _ = PROGRAMS["displays"]
    desk = Recording(_ran(text, acts, tmp_path)).desk
    parts = desk.at(len(desk.trace.steps) - 1).parts
    assert parts["letters"].lines == ("high    ", "tide    ")
    dots = parts["display"]
    assert (dots.size, dots.rows[0], dots.rows[1], dots.rows[15]) == ((32, 16), 0xFF000000, 0x81000000, 0xFFFFFFFF)
    assert dots.texts == ((8, 6, "eel", True),)
    lamp = Recording(_ran(*PROGRAMS["a lamp that a button switches"][:2], tmp_path))
    (band, button) = lamp.bands
    assert (band.name, button.name) == ("pin 2", "pin 14")
    ((first, last),) = band.on.tolist()
    told = [step for step in range(len(lamp.trace.steps)) if "pin 2" in lamp.desk.at(step).parts]
    assert told == list(range(told[0], len(lamp.trace.steps)))
    assert all(lamp.desk.at(step).parts["pin 2"].is_on == (first <= step <= last) for step in told)


def test_programs_with_a_module_of_the_board_are_known_by_it() -> None:
    assert {*modules._MODULES, *modules.SAME} == BOARD_MODULES


def test_a_program_that_never_ends_is_switched_off(tmp_path: Path) -> None:
    acts = ("at 100 press 1", "at 150 release 1", "at 400 press 1", "at 420 release 1")
    trace = _ran(WITHOUT_END, acts, tmp_path)
    assert _output(trace) == "1\n2\n"
    assert (trace.outcome.outcome, trace.outcome.exit_status) == ("exited", 0)
    parts = Recording(trace).desk.at(len(trace.steps) - 1).parts
    assert parts["off"].text.startswith("switched off at 3.4"), "three seconds after the last act"
    assert [its.name for its in Recording(trace).bands] == ["pin 1", "pin 2"]


def test_handlers_say_what_called_them(tmp_path: Path) -> None:
    text, acts, _ = PROGRAMS["an interrupt counts presses"]
    recording = Recording(_ran(text, acts, tmp_path))
    calls = handler_calls(recording)
    bodies = [(its.name, its.number) for its in recording.timeline.bodies(0) if its.number]
    assert bodies == [("pressed", 1), ("pressed", 2)], "they stand as such on the tide line"
    told = [(its.function, its.number, its.times, its.cause, its.changes) for its in calls]
    assert told == [
        ("pressed", 1, 2, "pin 3 pressed at 100 ms", "count ← 1"),
        ("pressed", 2, 2, "pin 3 pressed at 300 ms", "count ← 2"),
    ]


def test_modules_of_the_program_come_first(tmp_path: Path) -> None:
    (tmp_path / "machine.py").write_text("Pin = 'a pin of the station'\n")
    assert _output(_ran("import machine\nprint(machine.Pin)\n", (), tmp_path)) == "a pin of the station\n"


def test_what_cannot_be_done_is_said(tmp_path: Path) -> None:
    text = "from machine import Pin\nimport time\nlamp = Pin(2, Pin.OUT)\ntime.sleep(1)\n"
    trace = _ran(text, ("at 100 press 9", "at 200 set 26 to 4", "at 300 click add"), tmp_path)
    told = "".join(trace.texts.of(Texts.ERRORS))
    assert told.splitlines() == ["At 100 ms nothing listens at pin 9.", "At 300 ms there is no window for “click”."]


@settings(max_examples=15, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    moments=strategies.lists(strategies.integers(1, 180), min_size=1, max_size=6, unique=True),
    is_pulled_up=strategies.booleans(),
)
def test_a_button_is_felt_when_it_is_pressed(moments: list[int], is_pulled_up: bool, tmp_path: Path) -> None:
    """What a program feels every ten milliseconds is what the acts say of that moment."""
    at = [10 * its + 5 for its in sorted(moments)]
    acts = tuple(f"at {its} {'release' if place % 2 else 'press'} 4" for place, its in enumerate(at))
    pull = "PULL_UP" if is_pulled_up else "PULL_DOWN"
    text = f"from machine import Pin\nimport time\nbutton = Pin(4, Pin.IN, Pin.{pull})\nfelt = []\n"
    text += (
        "for _ in range(190):\n    felt.append((time.ticks_ms(), button.value()))\n    time.sleep_ms(10)\nprint(felt)\n"
    )
    felt = eval(_output(_ran(text, acts, tmp_path)))
    for moment, level in felt:
        if all(abs(moment - its) > 1 for its in at):
            is_pressed = sum(its < moment for its in at) % 2 == 1
            assert level == (is_pressed != is_pulled_up), moment


def test_what_a_recording_of_others_tells_of_a_board_is_not_believed() -> None:
    bad = (
        *(None, 3, [], {}, {"kind": "shark"}, {"kind": "dots", "size": [1]}, {"kind": "dots", "size": ["a", 2]}),
        *(
            {"kind": "analog", "share": "high"},
            {"kind": "sense", "value": float("nan")},
            {"kind": "strip", "lights": 4},
        ),
        *({"kind": "dots", "size": [8, 8], "texts": [[1]]}, {"kind": "letters", "lines": 7}),
    )
    assert [part_of(its) for its in bad] == [None] * len(bad)
    assert part_of({"kind": "strip", "lights": ["red", "#00ff00"]}) == BoardPart("strip", lights=("#000000", "#00ff00"))
