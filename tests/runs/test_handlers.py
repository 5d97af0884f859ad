"""Handlers: what calls functions of the program from outside is told, and what calls them otherwise is not."""

from __future__ import annotations

from pathlib import Path

import pytest
from support.runs import run_of_text

from eelgrass.reading.handlers import handler_calls
from eelgrass.reading.recording import Recording
from eelgrass.recorder.packing import IS_COMPILED

_TIDES = """\
import asyncio, functools, html.parser, json, os, re, sched, signal, threading
tides, now = [], [0]
def rise(height):
    tides.append(height)
    return len(tides)
clock = sched.scheduler(lambda: now[0], lambda seconds: now.append(now.pop() + seconds))
clock.enter(2, 1, rise, (3,))
clock.enter(5, 1, rise, (4,))
clock.run()
class Buoy(html.parser.HTMLParser):
    def handle_starttag(self, tag, attrs):
        tides.append(tag)
    def __del__(self):
        pass
Buoy().feed("<p>eel<b>")
sorted([3, 1], key=lambda its: -its)
re.sub("a", lambda found: "b", "banana")
json.dumps({"reef": {1}}, default=str)
@functools.lru_cache
def square(n):
    return n * n
square(3)
@functools.singledispatch
def told(its):
    return its
told(1)
def later():
    tides.append("later")
async def swim():
    asyncio.get_running_loop().call_soon(later)
    await asyncio.sleep(0)
    rise(1)
asyncio.run(swim())
timer = threading.Timer(0.25, rise, (9,))
timer.start()
timer.join()
threading.Thread(target=rise, args=(8,)).start()
"""
_CALLS = [
    ("<lambda>", "run of sched"),
    ("rise", "the scheduler, at 2"),
    ("rise", "the scheduler, at 5"),
    ("handle_starttag", "parse_starttag of html.parser"),
    ("handle_starttag", "parse_starttag of html.parser"),
    ("later", "the event loop"),
    ("rise", "a timer, after 0.25 s"),
]


def test_functions_that_a_library_calls_are_handlers(tmp_path: Path) -> None:
    calls = handler_calls(Recording(run_of_text(_TIDES, (), tmp_path, seed=1)))
    told = [(its.function, its.cause) for its in calls if its.function != "<lambda>"]
    assert told == [its for its in _CALLS if its[0] != "<lambda>"]
    assert {its.cause for its in calls if its.function == "<lambda>"} <= {"run of sched", "the scheduler, at 2"}
    rises = [its for its in calls if its.function == "rise"]
    assert [(its.number, its.arguments, its.changes, its.result) for its in rises] == [
        (1, "height = 3", "tides[0] ← 3", "1"),
        (2, "height = 4", "tides[1] ← 4", "2"),
        (4, "height = 9", "tides[6] ← 9", "7"),
    ]


@pytest.mark.skipif(not IS_COMPILED, reason="hooks that are not compiled do not see who calls handlers of signals")
def test_a_signal_calls_its_handler(tmp_path: Path) -> None:
    text = "import os, signal\ndef alarm(number, frame):\n    print(number)\n"
    text += "signal.signal(signal.SIGUSR1, alarm)\nos.kill(os.getpid(), signal.SIGUSR1)\nprint(1)\n"
    (call,) = handler_calls(Recording(run_of_text(text, (), tmp_path, seed=1)))
    assert (call.function, call.cause) == ("alarm", "the signal SIGUSR1")
