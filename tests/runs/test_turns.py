"""Threads that take turns by an order: the same again in each run, whatever they wait for."""

from __future__ import annotations

import os
import zipfile
from dataclasses import replace
from pathlib import Path

import pytest
from support import lock_programs, racy_programs, threaded
from support.runs import run_of, run_of_text

from eelgrass.reading.recording import Recording
from eelgrass.reading.threads.races import races
from eelgrass.reading.threads.waiting import threads_at
from eelgrass.runs.order import Turns
from eelgrass.trace.files import recording_file
from eelgrass.trace.model import Texts, Trace

#: Their order follows from where objects lie in memory, or from the world outside.
_NOT_STEERED = ("a pool", "to_thread", "coroutines beside a thread")
_IS_LONG = bool(os.environ.get("EELGRASS_LONG"))
_RUNS, _SEEDS = (50, 400) if _IS_LONG else (3, 24)


def _parts(trace: Trace, file: Path) -> dict[str, bytes]:
    """All that a recording's file holds, but for how long the run took."""
    recording_file.save(replace(trace, outcome=replace(trace.outcome, seconds=0.0)), file)
    with zipfile.ZipFile(file) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


@pytest.mark.parametrize("name", [name for name in threaded.PROGRAMS if name not in _NOT_STEERED])
def test_the_same_order_gives_the_same_recording(name: str, tmp_path: Path) -> None:
    program = tmp_path / "threaded.py"
    program.write_text(threaded.PROGRAMS[name])
    expected = threaded.told_by_oracle(name, tmp_path)
    for number in range(3):
        first = None
        for _ in range(_RUNS):
            trace = run_of(program, seed=1, turns=Turns(number))
            parts = _parts(trace, tmp_path / "run.eelrec")
            first = first or parts
            assert parts == first
        threaded.judge(name, tmp_path, expected, Turns(number))


@pytest.mark.parametrize("seed", range(_SEEDS))
def test_what_waits_in_a_circle_is_told(seed: int, tmp_path: Path) -> None:
    (tmp_path / "sluices.py").write_text(lock_programs.program(seed))
    trace = run_of(tmp_path / "sluices.py", turns=Turns(seed % 7))
    recording, output = Recording(trace), "".join(trace.texts.of(Texts.OUTPUT))
    at_end = threads_at(recording, len(trace.steps) - 1)
    if trace.outcome.outcome == "finished":
        assert not any(threads_at(recording, step).deadlock for step in range(0, len(trace.steps), 7))
        assert not any(its.waits_for for its in at_end.states)
        return
    assert trace.outcome.reason is not None
    assert "every thread waits" in trace.outcome.reason
    wants, has = lock_programs.standing(output)
    by_name = {its.its.name: its for its in at_end.states}
    for thread, place in wants.items():
        its = by_name[f"keeper {thread}"]
        assert its.waits_for is not None, lock_programs.program(seed)
        assert its.waits_for.name == f"sluice_{place}"
        assert {held.lock.name for held in its.holds} <= {f"sluice_{one}" for one in has.get(thread, ())}
        assert place in has[int(at_end.states[its.held_by].its.name.split()[1])]
    assert at_end.deadlock


def test_threads_take_turns_where_the_interpreter_begins_with_their_module(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    (tmp_path / "site").mkdir()
    (tmp_path / "site" / "sitecustomize.py").write_text("import queue, threading")
    monkeypatch.setenv("PYTHONPATH", str(tmp_path / "site"))
    for name in ("a lock", "a queue", "a barrier"):
        trace = run_of_text(threaded.PROGRAMS[name], (), tmp_path)
        assert trace.outcome.outcome == "finished"
        assert not any("Dummy" in text for text in trace.values.texts)
        assert trace.case["turns_taken"]["outside"] == 0


def test_sleeping_takes_no_time_and_is_counted(tmp_path: Path) -> None:
    text = """\
import threading, time
began = time.monotonic()
def doze(hours):
    time.sleep(hours * 3600)
    print(hours)
dozing = [threading.Thread(target=doze, args=(hours,)) for hours in (3, 1, 2)]
for one in dozing:
    one.start()
for one in dozing:
    one.join()
print(round(time.monotonic() - began))
print(threading.Event().wait(60))
"""
    trace = run_of_text(text, (), tmp_path)
    assert "".join(trace.texts.of(Texts.OUTPUT)).split() == ["1", "2", "3", "10800", "False"]
    assert trace.outcome.seconds < 5


@pytest.mark.parametrize("clock", [None, {}])
def test_others_go_on_while_one_waits_for_the_world_outside(
    clock: dict[str, list[float]] | None, tmp_path: Path
) -> None:
    text = """\
import os, threading, time
out, into = os.pipe()
def ring():
    for bell in range(3):
        print("bell", bell)
        time.sleep(0.01)
    os.write(into, b"done")
threading.Thread(target=ring).start()
print(os.read(out, 4).decode())
"""
    trace = run_of_text(text, (), tmp_path, clock=clock)
    assert "".join(trace.texts.of(Texts.OUTPUT)).split("\n") == ["bell 0", "bell 1", "bell 2", "done", ""]
    assert trace.case["turns_taken"] == {"threads": 2, "steps": 16, "outside": 1}


def test_a_thread_that_spins_lets_others_on(tmp_path: Path) -> None:
    text = """\
import threading
is_high = False
def turn():
    global is_high
    is_high = True
tide = threading.Thread(target=turn)
def watch():
    while not is_high:
        pass
    print("high")
watching = threading.Thread(target=watch)
watching.start()
tide.start()
"""
    trace = run_of_text(text, (), tmp_path, max_steps=100_000)
    assert "".join(trace.texts.of(Texts.OUTPUT)) == "high\n"


@pytest.mark.parametrize(
    "waiting",
    [
        "lock = threading.Lock()\nlock.acquire()\nlock.acquire()",
        "queue.Queue().get()",
        "threading.Barrier(2).wait()",
        "threading.Semaphore(0).acquire()",
        "with turned:\n    turned.wait()",
    ],
)
def test_a_run_in_which_nobody_can_go_on_ends(waiting: str, tmp_path: Path) -> None:
    text = f"import queue\nimport threading\nturned = threading.Condition()\n{waiting}\n"
    trace = run_of_text(text, (), tmp_path)
    assert trace.outcome.outcome == "stopped"
    assert trace.outcome.reason == "The run was ended: every thread waits, and none can go on any more."


def test_beside_what_waits_for_the_world_threads_are_left_alone(tmp_path: Path) -> None:
    trace = run_of_text("import socket, threading\nprint(threading.active_count())\n", (), tmp_path)
    assert trace.case["turns_taken"] == {"kept_by": "socket"}


@pytest.mark.parametrize("seed", range(_SEEDS))
def test_what_is_lost_between_threads_is_told_and_nothing_else(seed: int, tmp_path: Path) -> None:
    """Threads add powers of two to what they share: the bits that are missing at the end were lost."""
    text = racy_programs.program(seed)
    (tmp_path / "tally.py").write_text(text)
    for number in range(3):
        trace = run_of(tmp_path / "tally.py", seed=1, turns=Turns(0, racy_programs.switches(9 * seed + number)))
        told = [its.text for its in races(Recording(trace)) if its.kind == "lost update"]
        for place, is_lost in racy_programs.lost(text, "".join(trace.texts.of(Texts.OUTPUT))).items():
            assert any(f"“{place}”" in its for its in told) == is_lost, text
