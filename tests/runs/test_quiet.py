"""Programs that sleep, wait or do little: what they have done by now is told all the same."""

from __future__ import annotations

import shutil
import subprocess
import threading
from collections.abc import Callable
from pathlib import Path

import pytest
from support import first_year, generated_async
from support.judges import judge

from eelgrass.runs.child import quiet
from eelgrass.runs.order import Order
from eelgrass.runs.run import Run
from eelgrass.trace.model import Texts, Trace

_WAITS = """\
import select
def wait_for(boat):
    select.select([], [], [], 60)
    return boat
print("tide is out")
wait_for(3)
"""
_WINDOW = """\
import tkinter
def pressed():
    print("pressed")
root = tkinter.Tk()
root.after(1, pressed)
root.mainloop()
"""


class _Watched(Run):
    """A run that is stopped as soon as something is seen in what it has told."""

    def __init__(self, program: Path, until: Callable[[Trace], bool]) -> None:
        self.last: Trace | None = None
        self._until, self._is_seen = until, threading.Event()
        super().__init__(Order(program), on_quiet=self._see)

    def _see(self, trace: Trace) -> None:
        self.last = trace
        if self._until(trace):
            self._is_seen.set()

    def stopped(self) -> Trace:
        """The recording of the run, stopped then."""
        self.start()
        assert self._is_seen.wait(30)
        self.stop()
        return self.wait()


def test_what_a_waiting_program_has_done_is_there_while_it_waits(tmp_path: Path) -> None:
    (tmp_path / "waits.py").write_text(_WAITS)
    run = _Watched(tmp_path / "waits.py", lambda its: its.line_of(len(its.steps) - 1) == 3)
    trace = run.stopped()
    assert run.last is not None
    assert run.last.texts.of(Texts.OUTPUT) == ["tide is out", "\n"]
    assert len(trace.steps) == len(run.last.steps)


@pytest.mark.skipif(shutil.which("Xvfb") is None, reason="there is no virtual screen")
def test_a_stopped_program_with_a_window_keeps_its_recording(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    pytest.importorskip("tkinter")
    (tmp_path / "window.py").write_text(_WINDOW)
    with subprocess.Popen(["Xvfb", "-displayfd", "1"], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL) as screen:
        assert screen.stdout is not None
        monkeypatch.setenv("DISPLAY", f":{screen.stdout.readline().decode().strip()}")
        try:
            trace = _Watched(tmp_path / "window.py", lambda its: any(its.texts.of(Texts.OUTPUT))).stopped()
        finally:
            screen.terminate()
    assert trace.outcome.reason == "You stopped the run."
    assert trace.texts.of(Texts.OUTPUT) == ["pressed", "\n"]


def test_being_asked_at_any_moment_changes_nothing(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("PYTHONHASHSEED", "0")
    for name in ("QUIET_SECONDS", "MOST_SECONDS"):
        monkeypatch.setattr(quiet, name, 0.0004)
    for seed in range(8):
        judge(tmp_path / "tasks.py", generated_async.program(seed))
        first_year.judge(seed, tmp_path)
