"""What a move in the reading window takes while a class's hand-ins are judged, and what the class set's window does."""

from __future__ import annotations

import contextlib
import importlib
import os
import sys
import tempfile
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from time import perf_counter

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from PyQt6.QtCore import QEventLoop
from PyQt6.QtWidgets import QApplication

from benchmarks.measure import machine, spread, timed_ms
from benchmarks.window import redraw
from eelgrass.desktop.app import application
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.lessons.demo_lesson import FOLDER
from eelgrass.runs.confinement import hide_from_programs

sys.path.append(str(Path(__file__).parents[1] / "tests"))
made_up_class = importlib.import_module("support.made_up_class")


@dataclass
class Taken:
    """Times in milliseconds: of moves, and of whatever else came to the window's thread in between."""

    moves: list[float] = field(default_factory=list)
    others: list[float] = field(default_factory=list)


def main() -> None:
    """A class of as many as the first argument says (300), each with a text of its own."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 300
    print(machine())
    with new_window() as (window, made):
        folder = made / "class"
        folder.mkdir()
        made_up_class.make("shoot_count", folder, max(count // 5, 1))
        for its in folder.rglob("*.py"):
            its.write_text(f"{its.read_text()}\n# {its.parent.name} {its.name}\n")
        run_ended(window, FOLDER / "shoot_count")
        tell("nothing else on its way", walk(window, lambda: False, 400))
        window.commands.take_dropped([folder])
        work = window.models.class_work
        begun = perf_counter()
        tell(f"while {count} hand-ins are judged", walk(window, lambda: work.lane.is_busy, 0))
        print(f"judged in {perf_counter() - begun:.1f} s; {len(work.groups)} groups")
        window.commands.class_window.close()


@contextlib.contextmanager
def new_window() -> Iterator[tuple[MainWindow, Path]]:
    """A window with a state of its own, and the folder that it has it in."""
    with tempfile.TemporaryDirectory() as made:
        for name in ("XDG_STATE_HOME", "XDG_CACHE_HOME", "XDG_CONFIG_HOME"):
            os.environ[name] = str(Path(made) / name)
        app = application()
        hide_from_programs()
        window = MainWindow()
        window.show()
        yield window, Path(made)
        window.close()
        del app


def run_ended(window: MainWindow, opened: Path) -> None:
    """Opens something in a window, and waits until it has run."""
    window.models.workspace.open(opened)
    while window.models.run.is_running or window.models.parts.session.recording is None:
        QApplication.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)


def walk(window: MainWindow, goes_on: Callable[[], bool], least: int) -> Taken:
    """Moves through the run on view as long as something goes on, at least so often."""
    taken, session = Taken(), window.models.parts.session
    while len(taken.moves) < least or goes_on():
        recording = session.recording
        assert recording is not None
        taken.others.append(timed_ms(QApplication.processEvents))
        step = recording.stepping.next_any(session.step)
        step = recording.stepping.first() if step == session.step else step
        taken.moves.append(timed_ms(lambda step=step: redraw(window, step)))  # type: ignore[misc]
    return taken


def tell(what: str, taken: Taken) -> None:
    """Prints how long the moves took, and what came in between."""
    late = sum(its > 16 for its in taken.moves) / len(taken.moves)
    print(f"{what}: {len(taken.moves)} moves: {spread(taken.moves)}; {late:.1%} above 16 ms")
    print(f"{what}: other events: {spread(taken.others)}")


if __name__ == "__main__":
    main()
