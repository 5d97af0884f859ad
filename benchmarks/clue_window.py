"""What a move in the window takes while the clues of the run on view are looked for.

`./bench clue_window [STEPS]`; half a million by itself."""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path
from time import perf_counter

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from PyQt6.QtCore import QEventLoop
from PyQt6.QtWidgets import QApplication

from benchmarks.class_window import Taken, tell, walk
from benchmarks.measure import machine
from eelgrass.desktop.app import application
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.runs.confinement import hide_from_programs

_TEXT = """\
class Crab:
    seen = []
    def __init__(self, name):
        self.name = name
        self.seen.append(name)
    def walk(self, by):
        self.place = by
crabs = []
for n in range({0}):
    crab = Crab("crab " + str(n))
    crab.walk(n % 3)
    crabs.append(crab)
print(len(crabs), crabs[-1].nothing)
"""
_STEPS_OF_A_PASS = 11
_AGAIN = 20


def main() -> None:
    """A run of so many steps."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 500_000
    print(machine())
    with tempfile.TemporaryDirectory() as made:
        for name in ("XDG_STATE_HOME", "XDG_CACHE_HOME", "XDG_CONFIG_HOME"):
            os.environ[name] = str(Path(made) / name)
        program = Path(made) / "crabs.py"
        program.write_text(_TEXT.format(count // _STEPS_OF_A_PASS))
        app = application()
        hide_from_programs()
        window = MainWindow()
        window.show()
        models = window.models
        models.settings.change(max_steps=2 * count)
        models.workspace.open(program)
        while models.run.is_running or models.parts.session.recording is None:
            QApplication.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
        begun = perf_counter()
        tell("while clues are looked for", walk(window, lambda: models.clues.lane.is_busy, 0))
        print(f"{len(models.clues.shown)} clues after {perf_counter() - begun:.2f} s")
        tell("nothing else on its way", walk(window, lambda: False, 200))
        again = Taken()
        for _ in range(_AGAIN):
            models.clues.look()
            its = walk(window, lambda: models.clues.lane.is_busy, 0)
            again.moves += its.moves
            again.others += its.others
        tell(f"while they are looked for again, {_AGAIN} times", again)
        window.close()
        del app


if __name__ == "__main__":
    main()
