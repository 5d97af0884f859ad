"""Trace tables and pictures: the first screen, scrolling, redrawing, in the real window without a monitor."""

from __future__ import annotations

import os
import sys
import tempfile
from functools import partial
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtWidgets import QApplication

from benchmarks.measure import machine, spread, timed_ms
from benchmarks.trace import recorded
from eelgrass.desktop.app import application
from eelgrass.desktop.tabs.pictures_view import PicturesView
from eelgrass.desktop.tabs.trace_table.table_view import TableView
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.reading.pictures.shapes import picture_of
from eelgrass.reading.recording import Recording
from eelgrass.runs.order import Order
from eelgrass.runs.run import Run

_SCROLLS = 200
_MOVES = 200

CELLS = """\
levels = list(range(200, 0, -1))
flats = [[row * column for column in range(20)] for row in range(10)]
for place in range(40, 160):
    levels[place], levels[place + 1] = levels[place + 1], levels[place]
    flats[place % 10][place % 20] = place
"""


def _shown(window: MainWindow) -> None:
    QApplication.processEvents()
    window.grab()


def _scroll(window: MainWindow, turn: int) -> None:
    bar = window.view(TableView).view.verticalScrollBar()
    assert bar is not None
    bar.setValue(turn * 3)
    window.view(TableView).view.grab()


def _tables(window: MainWindow, steps: int, folder: Path) -> None:
    trace, _ = recorded("station", steps, folder)
    recording = Recording(trace)
    recording.prepare()
    window.models.parts.session.show(recording)
    window.commands.show_table()
    print(f"{len(trace.steps):,} steps")
    names = ("this call", "with calls", "passes", "stretch", "the whole run")
    for scope in (4, 1, 0, 2):
        window.models.parts.session.go(
            int(recording.visits.of_line(0, 13)[0]) if scope == 2 else recording.stepping.stops_of(1)[-1]
        )
        _shown(window)
        window.view(TableView).scope.setCurrentIndex(3)

        def show(scope: int = scope) -> None:
            window.view(TableView).scope.setCurrentIndex(scope)
            _shown(window)

        first = timed_ms(show)
        rows = window.view(TableView).model.rowCount()
        samples = [timed_ms(partial(_scroll, window, turn)) for turn in range(_SCROLLS)]
        print(f"table of {names[scope]}, {rows:,} rows: first screen {first:.0f} ms (goal 200); "
              f"scrolling and painting: {spread(samples)} (goal 16)", flush=True)  # fmt: skip


def _redraw(window: MainWindow) -> None:
    window.view(PicturesView).refresh()
    window.view(PicturesView).sheet.grab()


def _pictures(window: MainWindow, folder: Path) -> None:
    program = folder / "cells.py"
    program.write_text(CELLS)
    run = Run(Order(program))
    run.start()
    recording = Recording(run.wait())
    window.models.parts.session.show(recording)
    window.commands.show_pictures()
    for path, size in (("levels", "200 numbers, 40 of them on view"), ("flats", "grid of 200 cells")):
        window.models.parts.options.set_pictures([path])
        window.models.parts.session.move("first")
        _shown(window)
        stops = recording.stepping.stops[-_MOVES:].tolist()
        sheet = window.view(PicturesView).sheet
        found, drawn, whole = [], [], []
        for step in stops:
            window.models.parts.session.go(step)
            QApplication.processEvents()
            found.append(timed_ms(partial(picture_of, recording, path, step)))
            drawn.append(timed_ms(partial(sheet.show_pictures, [picture_of(recording, path, step)])))
            whole.append(timed_ms(partial(_redraw, window)))
        print(f"picture of {path} ({size}): worked out {spread(found)}; redrawn {spread(drawn)} (goal 8); "
              f"all that a move does: {spread(whole)}", flush=True)  # fmt: skip


def main() -> None:
    """Measures a recording of about as many steps as the first argument says, or a million."""
    steps = int(sys.argv[1]) if len(sys.argv) > 1 else 1_000_000
    print(machine())
    with tempfile.TemporaryDirectory() as folder:
        os.environ["XDG_STATE_HOME"] = folder
        app = application()  # which has to be held
        window = MainWindow()
        window.resize(1280, 800)
        window.show()
        _tables(window, steps, Path(folder))
        _pictures(window, Path(folder))
        sys.stdout.flush()
        app.exit()
        os._exit(0)


if __name__ == "__main__":
    main()
