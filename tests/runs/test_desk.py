"""The simulated desk: programs with windows see there what they see on a screen; a script does what a person does."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import assume, given, strategies
from support import generated_windows
from support.desk_programs import ALONE, HAS_TK, SPIRAL, TALLY
from support.runs import run_of_text

from eelgrass.reading.desk.desk_states import DeskStates
from eelgrass.reading.handlers import handler_calls
from eelgrass.reading.recording import Recording
from eelgrass.runs.acts import act_line, read_acts
from eelgrass.runs.order import Act, CannotRunError, Desk
from eelgrass.trace.building.builder import Builder
from eelgrass.trace.model import Texts, Trace

pytestmark = pytest.mark.skipif(not HAS_TK, reason="this Python has no tkinter")


def output(trace: Trace) -> str:
    return "".join(trace.texts.of(Texts.OUTPUT))


@pytest.fixture(scope="module")
def screen() -> Iterator[str]:
    """A real screen, on which nobody looks."""
    if shutil.which("Xvfb") is None:
        pytest.skip("there is no virtual screen")
    with subprocess.Popen(["Xvfb", "-displayfd", "1"], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL) as process:
        assert process.stdout is not None
        yield f":{process.stdout.readline().decode().strip()}"
        process.terminate()


@pytest.mark.parametrize("name", ALONE)
def test_a_program_sees_the_same_as_on_a_screen(name: str, screen: str, tmp_path: Path) -> None:
    (tmp_path / "plain.py").write_text(ALONE[name])
    shown = subprocess.run(
        [sys.executable, "plain.py"],
        cwd=tmp_path,
        env={**os.environ, "DISPLAY": screen},
        capture_output=True,
        text=True,
        timeout=60,
        check=True,
    )
    trace = run_of_text(ALONE[name], (), tmp_path, desk=Desk())
    assert output(trace) == shown.stdout
    told = "".join(trace.texts.of(Texts.ERRORS)).replace("program.py", "plain.py")
    assert told.splitlines()[-1:] == shown.stderr.splitlines()[-1:]


@pytest.mark.parametrize("kind", generated_windows.PROGRAMS)
@pytest.mark.parametrize("seed", [*range(300, 303), *((*range(400, 460),) if os.environ.get("EELGRASS_LONG") else ())])
def test_whatever_a_program_does_to_its_widgets_gives_what_it_gives_on_a_screen(
    kind: str, seed: int, screen: str, tmp_path: Path
) -> None:
    """The long form finds what is known to be otherwise, too: `./bench desk` counts it."""
    text = generated_windows.PROGRAMS[kind](seed)
    (tmp_path / "plain.py").write_text(text)
    environment = {**os.environ, "DISPLAY": screen}
    ran = [sys.executable, "plain.py"]
    shown = subprocess.run(ran, cwd=tmp_path, env=environment, capture_output=True, text=True, timeout=60, check=True)
    trace = run_of_text(text, (), tmp_path, desk=Desk())
    assert output(trace).splitlines() == shown.stdout.splitlines()


def test_what_is_done_calls_handlers_and_is_shown_in_step(tmp_path: Path) -> None:
    acts = (
        *(
            Act(100, "click", "add"),
            Act(200, "click", "add"),
            Act(1500, "type", "entry", "7"),
            Act(1600, "click", "no"),
        ),
        Act(2500, "click", "leave"),
    )
    trace = run_of_text(TALLY, (), tmp_path, desk=Desk(acts), seed=1)
    assert output(trace).splitlines() == ["tick 2", "key 7", "tick 2", "end 2"]
    assert "nothing is there that is called “no”" in "".join(trace.texts.of(Texts.ERRORS))
    recording = Recording(trace)
    calls = handler_calls(recording)
    assert [(its.function, its.number, its.cause) for its in calls] == [
        ("add", 1, "click on “add” at 100 ms"),
        ("add", 2, "click on “add” at 200 ms"),
        ("tick", 1, "after 1000 ms"),
        ("on_key", 1, "type on “entry” at 1500 ms"),
        ("tick", 2, "after 1000 ms"),
    ]
    assert calls[1].changes == "count ← 2"
    words = [recording.desk.at(its.first).widgets[".!label"]["words"] for its in calls]
    assert words == ["eels: 0", "eels: 1", "eels: 2", "eels: 2", "eels: 2"]
    assert recording.desk.at(calls[-1].first).widgets[".!entry"]["words"] == "7"
    assert not recording.desk.at(len(trace.steps) - 1).windows, "it was closed"
    again = run_of_text(TALLY, (), tmp_path, desk=Desk(acts), seed=1)
    assert again.texts.of(Texts.DESK, Texts.CAUSE) == trace.texts.of(Texts.DESK, Texts.CAUSE)


def test_a_drawing_grows_with_the_steps(tmp_path: Path) -> None:
    recording = Recording(run_of_text(SPIRAL.format(strokes=100), (), tmp_path, desk=Desk()))
    visits = recording.visits.of_line(0, 4).tolist()
    points = [
        sum(len(its.coords) // 2 - 1 for its in recording.desk.at(step).items[".!canvas"] if its.kind == "line")
        for step in visits[1:]
    ]
    assert points == sorted(points)
    assert points[-1] - points[0] == len(points) - 1, "a stroke more with each pass"
    left, top, right, bottom = recording.desk.drawn[".!canvas"]
    assert left < -40
    assert right > 40
    assert top < -40
    assert bottom > 40


@pytest.mark.parametrize(
    ("line", "act"),
    [
        ("at 100 click add", Act(100, "click", "add")),
        ("at 100 ms click `two words`", Act(100, "click", "two words")),
        ("at 250 click 40, -20 on sea", Act(250, "click", "sea", "", 40, -20)),
        ('at 400 type "it\'s 12" into amount', Act(400, "type", "amount", "it's 12")),
        ("at 500 choose 'cod' in ways", Act(500, "choose", "ways", "cod")),
        ("at 550 click with button 3", Act(550, "click", button=3)),
        ("at 580 drag to (9, 8.5) on sea with button 2", Act(580, "drag", "sea", "", 9, 8.5, 2)),
        ("at 600.5 key Left", Act(600.5, "key", "", "Left")),
        ("at 900 answer yes", Act(900, "answer", "", "yes")),
        ("at 1000 close", Act(1000, "close")),
        ("at 100 press pin 14", Act(100, "press", "14")),
        ("at 300 release 14", Act(300, "release", "14")),
        ("at 500 set 26 to 40%", Act(500, "set", "26", "40%")),
        ("at 700 set temperature to -2.5", Act(700, "set", "temperature", "-2.5")),
    ],
)
def test_acts_are_read_as_they_are_written(line: str, act: Act) -> None:
    assert read_acts([line, "", "# nothing"]) == (act,)
    assert read_acts([act_line(act)]) == (act,)


_NAMES = strategies.one_of(
    strategies.text(max_size=12), strategies.sampled_from(("40, 2", "a on b", "with button 3", '"x"'))
)


@given(
    strategies.floats(0, 1e6).map(lambda its: round(its, 3)),
    strategies.sampled_from(("click", "drag", "type", "choose", "key", "answer", "press", "release", "set", "close")),
    _NAMES,
    _NAMES,
    strategies.none() | strategies.tuples(strategies.integers(-900, 900), strategies.integers(-900, 900)),
)
def test_whatever_is_done_is_read_back_as_it_was(
    at: float, do: str, on: str, text: str, place: tuple[int, int] | None
) -> None:
    is_mouse = do in ("click", "drag")
    x, y = place if place is not None and is_mouse else (None, None)
    on, text = ("" if do == "answer" else on.strip()), text.strip() if do in ("type", "choose", "key", "answer") else ""
    act = Act(at, do, on, "-2.5%" if do == "set" else text, x, y, 3 if is_mouse else 1)
    assume((act.text or do != "key") and (act.on or do not in ("press", "release", "set")))
    assert read_acts([act_line(act)]) == (act,)


def test_what_is_no_act_is_said() -> None:
    with pytest.raises(CannotRunError, match="not understood: “click add”"):
        read_acts(["click add"])


def test_what_a_recording_of_others_tells_of_a_desk_is_not_believed() -> None:
    told = [
        '[".", {"kind": "Toplevel", "at": [0, 0, 90, 60], "in": ".a"}]',
        '[".a", {"kind": "Frame", "at": [1, 1, 9, 9], "in": ".b"}]',
        '[".b", {"kind": "Frame", "at": [1, 1, 9, 9], "in": ".a", "lines": "no", "origin": ["x", 2], "words": 7}]',
        *('["?", 3]', "[1, 2]", '{"a": 1}', "[" * 4000, '[".c", {"at": [1, 2, "wide", 4]}]', '[".d", null]'),
        *('[".e#1", ["line", [1], {}, 2]]', '[".e#2", ["line", [1, 1e99], {}, 2]]', '[".e#3", 5]', '[".f", {}]'),
    ]
    steps = np.zeros(len(told), np.int32)
    texts = Texts(steps, np.full(len(told), Texts.DESK, np.uint8), told)
    trace = replace(Builder({}).trace(), texts=texts)
    desk = DeskStates(trace).at(5)
    assert set(desk.widgets) == {".", ".a", ".b"}
    assert not {"lines", "origin", "words"} & set(desk.widgets[".b"])
    assert not any(desk.items.values())
    assert desk.windows == ["."]
    assert [desk.at(path) for path in desk.widgets] != []
    assert isinstance(desk.within("."), list)
