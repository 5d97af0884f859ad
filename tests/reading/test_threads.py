"""What threads wait for, and deadlocks by name."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from click.testing import CliRunner
from support.judges import CORPUS
from support.runs import run_of_text

from eelgrass.cli.main import main
from eelgrass.reading.recording import Recording
from eelgrass.reading.threads.tasks import TaskReader
from eelgrass.reading.threads.waiting import Threads, threads_at
from eelgrass.runs.order import Order, Turns
from eelgrass.runs.run import Run
from eelgrass.trace.files import recording_file
from eelgrass.trace.model import Trace

_CIRCLE = """\
import threading
import time

boats = [threading.{kind}() for _ in range({count})]
barrier = threading.Barrier({count})


def sail(place):
    mine, other = boats[place], boats[(place + 1) % {count}]
    {take}
        barrier.wait()
        other.acquire()
        other.release()


crew = [threading.Thread(target=sail, args=(place,), name=f"boat {{place}}") for place in range({count})]
for boat in crew:
    boat.start()
for boat in crew:
    boat.join()
"""


def stopped(text: str, folder: Path, until: str, turns: Turns | None = None) -> Recording:
    """The recording of a program that is stopped when all that it will ever do is recorded; whose threads take turns
    ends itself."""
    program = folder / "ferry.py"
    program.write_text(text)

    def look(trace: Trace) -> None:
        if until in threads_at(Recording(trace), len(trace.steps) - 1).text:
            run.stop()

    run = Run(Order(program, max_seconds=30, turns=turns), on_quiet=look)
    run.start()
    return Recording(run.fed([]))


def end(recording: Recording) -> Threads:
    return threads_at(recording, len(recording.trace.steps) - 1)


@pytest.mark.parametrize("turns", [None, Turns(), Turns(5)])
@pytest.mark.parametrize(
    ("count", "kind", "take"), [(2, "Lock", "with"), (3, "RLock", "acquire"), (5, "Lock", "acquire")]
)
def test_a_deadlock_is_named_with_its_circle(
    count: int, kind: str, take: str, turns: Turns | None, tmp_path: Path
) -> None:
    taken = "with mine:" if take == "with" else "mine.acquire()\n    if True:"
    recording = stopped(_CIRCLE.format(count=count, kind=kind, take=taken), tmp_path, "deadlock", turns)
    told = end(recording)
    reason = "The run was ended: every thread waits, and none can go on any more." if turns else "You stopped the run."
    assert recording.trace.outcome.reason == reason
    names = [told.states[place].its.name for place in told.deadlock]
    first = names.index("boat 0")
    assert names[first:] + names[:first] == [f"boat {place}" for place in range(count)], "each waits for the next"
    line = 12 if take == "with" else 13
    assert f"“boat 0” waits at line {line} for boats[1], held by “boat 1” since line 10" in told.text
    main_thread = told.states[0]
    assert main_thread.waits_for is not None
    assert (main_thread.its.name, main_thread.waits_for.kind) == ("main", "thread")
    assert {its.waits_for.kind for its in told.states if its.waits_for is not None} == {kind, "thread"}
    before = int(recording.visits.of_line(0, 9)[-1])
    assert not threads_at(recording, before).deadlock, "not before it closes"


@pytest.mark.parametrize("turns", [None, Turns()])
def test_a_lock_that_is_taken_twice_and_a_queue_that_nobody_fills(turns: Turns | None, tmp_path: Path) -> None:
    twice = "import threading\nreef = threading.Lock()\nreef.acquire()\nprint('once')\nreef.acquire()\n"
    told = end(stopped(twice, tmp_path, "deadlock", turns))
    wait = "“main” waits at line 5 for reef, held by “main” since line 3"
    assert told.text == f"A deadlock, in which nobody can go on: {wait}."
    left = (
        "import threading, queue\nreef, crabs = threading.Lock(), queue.Queue()\n"
        "def take():\n    reef.acquire()\n"
        "boat = threading.Thread(target=take)\nboat.start()\nboat.join()\ncrabs.get()\n"
    )
    told = end(stopped(left, tmp_path, "crabs", turns))
    assert told.text == "“main” waits at line 8 for crabs."
    assert [its.state for its in told.states] == ["waiting", "ended"]


def test_threads_that_take_turns_come_to_no_deadlock(tmp_path: Path) -> None:
    run = Run(Order(CORPUS / "thread_turns.py"))
    run.start()
    recording = Recording(run.fed([]))
    for step in range(0, len(recording.trace.steps), 7):
        assert not threads_at(recording, step).deadlock
    recording_file.save(recording.trace, tmp_path / "turns.eelrec")
    told = json.loads(CliRunner().invoke(main, ["threads", str(tmp_path / "turns.eelrec")]).output)
    assert [its["state"] for its in told["threads"]][:4] == ["running", "ended", "ended", "ended"]
    assert [its["name"] for its in told["threads"]][:2] == ["main", "collector"]
    assert (told["deadlock"], told["text"]) == (None, "")


def test_a_lock_is_held_at_its_step_however_many_are_taken_later(tmp_path: Path) -> None:
    program = tmp_path / "ferry.py"
    program.write_text(
        "import threading\nreef = threading.Lock()\nreef.acquire()\nfirst = 1\nreef.release()\n"
        "for _ in range(2100):\n    reef.acquire()\n    reef.release()\n"
    )
    run = Run(Order(program))
    run.start()
    recording = Recording(run.fed([]))
    step = next(its for its in range(9) if recording.trace.line_of(its) == 4)
    assert [its.lock.name for its in threads_at(recording, step).states[0].holds] == ["reef"]


_BOATS = """\
import asyncio
async def sail(boat, hours):
    await asyncio.sleep(hours)
    return boat
async def land():
    boat = await sail("gull", 0.01)
    return boat
async def main():
    tasks = [asyncio.create_task(sail("tern", 0.03)), asyncio.create_task(land())]
    sail("lost", 1)
    print(await asyncio.gather(*tasks))
asyncio.run(main())
"""


def test_tasks_say_what_they_await_and_what_was_never_awaited(tmp_path: Path) -> None:
    (tmp_path / "boats.py").write_text(_BOATS)
    run = Run(Order(tmp_path / "boats.py"))
    run.start()
    recording = Recording(run.fed([]))
    tasks = TaskReader(recording)
    assert tasks.never_awaited == ["sail"]
    step = int(recording.visits.of_line(0, 7)[0])
    assert [(its.name, its.state, its.line, its.awaits) for its in tasks.at(step)] == [
        ("main (1)", "waiting", 11, "asyncio.gather(*tasks)"),
        ("sail (1)", "waiting", 3, "asyncio.sleep(hours)"),
        ("land (1)", "running", 7, ""),
    ]
    assert [its.state for its in tasks.at(len(recording.trace.steps) - 1)] == ["ended"] * 3


_HARBOUR = """\
import asyncio
async def ferry(gate, catch):
    await gate.wait()
    print("out")
    eels = await catch.get()
    print(eels)
    await asyncio.sleep(0.01)
    return eels
async def pilot(gate, catch):
    await asyncio.sleep(0)
    gate.set()
    await asyncio.sleep(0)
    await catch.put(3)
async def main():
    gate, catch = asyncio.Event(), asyncio.Queue()
    crew = [asyncio.create_task(ferry(gate, catch)), asyncio.create_task(pilot(gate, catch))]
    done = await crew[0]
    print(done)
asyncio.run(main())
"""


def test_tasks_say_who_let_them_go_on(tmp_path: Path) -> None:
    recording = Recording(run_of_text(_HARBOUR, (), tmp_path))
    tasks = TaskReader(recording)

    def woken(line: int) -> str:
        step = int(recording.visits.of_line(0, line)[0])
        return next(its.woken for its in tasks.at(step) if its.state == "running")

    assert woken(3) == "", "it has not waited yet"
    assert woken(4) == "“pilot (1)” at line 11"
    assert woken(6) == "“pilot (1)” at line 13"
    assert woken(8) == "time"
    assert woken(18) == "the end of “ferry (1)”"


_ROUND = """\
import asyncio
async def pilot(others):
    await asyncio.sleep(0)
    await others["mate"]
async def mate(others):
    await asyncio.sleep(0)
    await others["pilot"]
async def main():
    others = {}
    others["pilot"] = asyncio.create_task(pilot(others))
    others["mate"] = asyncio.create_task(mate(others))
    await asyncio.wait(others.values(), timeout=0.1)
asyncio.run(main())
"""


def test_tasks_that_wait_for_one_another_are_told(tmp_path: Path) -> None:
    recording = Recording(run_of_text(_ROUND, (), tmp_path))
    tasks = TaskReader(recording)
    step = int(recording.visits.of_line(0, 7)[0])
    before, after = tasks.at(step), tasks.at(step + 1)
    assert tasks.circle(before) == []
    assert [after[place].name for place in tasks.circle(after)] == ["pilot (1)", "mate (1)"]
