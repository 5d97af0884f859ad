"""How long one move takes to redraw the whole window, offscreen at 1280x800."""

from __future__ import annotations

import os
import random
import sys
import tempfile
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from PyQt6.QtCore import QEventLoop
from PyQt6.QtWidgets import QApplication

from benchmarks.measure import machine, recording_of, spread, timed_ms
from eelgrass.desktop.app import application
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.reading.recording import Recording

MOVES = 400


def redraw(window: MainWindow, step: int) -> None:
    """Shows a step and paints everything that this changes."""
    window.models.parts.session.go(step)
    QApplication.processEvents()


def measure(window: MainWindow, size: int) -> None:
    """Prints the figures for a recording of about `size` steps."""
    with tempfile.TemporaryDirectory() as folder:
        recording = recording_of(size, Path(folder))
    recording.prepare()
    window.models.parts.session.show(recording)
    QApplication.processEvents()
    moves(window, recording, "")
    compare_with_itself(window, recording)
    moves(window, recording, "beside another run: ")
    window.models.comparison.end()


def compare_with_itself(window: MainWindow, recording: Recording) -> None:
    """Puts the same run beside the one on view, and waits until all is known."""
    comparison, other = window.models.comparison, Recording(recording.trace)
    comparison.compare_with(lambda _progress: other, "the same", "this run")
    while comparison.beside is None:
        QApplication.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)


def moves(window: MainWindow, recording: Recording, what: str) -> None:
    """Prints the figures for lines one after the other, and for jumps."""
    steps, session, choose = len(recording.trace.steps), window.models.parts.session, random.Random(4)
    session.go(steps // 2)
    walk = [timed_ms(lambda: redraw(window, recording.stepping.next_any(session.step))) for _ in range(MOVES)]
    jumps = [timed_ms(lambda: redraw(window, choose.randrange(steps))) for _ in range(MOVES)]
    print(f"{what}{steps:,} steps, next line, {MOVES} moves: {spread(walk)}")
    print(f"{what}{steps:,} steps, to a random step, {MOVES} moves: {spread(jumps)}", flush=True)


def main() -> None:
    """Measures recordings of the sizes given as arguments (steps)."""
    app = application()
    window = MainWindow()
    window.show()
    print(machine())
    for size in [int(argument) for argument in sys.argv[1:]] or [10_000]:
        measure(window, size)
    window.close()
    del app


if __name__ == "__main__":
    main()
