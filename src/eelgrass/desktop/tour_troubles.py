"""The part of the tour in which programs go wrong."""

from __future__ import annotations

from pathlib import Path

from eelgrass.desktop.tabs.threads_view import ThreadsView
from eelgrass.desktop.tour_programs import DEADLOCK, ENDLESS, FULL
from eelgrass.desktop.tour_two_runs import TwoRunsTour


class TroublesTour(TwoRunsTour):
    """What a class does wrong, each program with its pictures."""

    def _troubles(self, folder: Path) -> None:
        """What a class does wrong: an exception, a run without an end, a text that is none."""
        for name, text, what in (
            ("exception", FULL, "the end of the run that fails"),
            ("run-away", ENDLESS, "the end of the run that is stopped"),
        ):
            program = folder / f"{name.replace('-', '_')}.py"
            program.write_text(text, encoding="utf-8")
            self.window.models.workspace.open(program)
            self._wait(self._is_over, what)
            self._act("last")
            self._picture(name)
        self._deadlock(folder / "ferry_and_pier.py")
        self.window.models.workspace.open(folder / "run_away.py")
        self._wait(self._is_over, "the end of the run that is stopped")
        self._act("edit")
        self.window.source.editor.setText(ENDLESS.replace(":", "") + "print('shoots, shoots)\n")
        self.window.diagnose()
        self._picture("text-with-errors")
        self.window.source.set_editing(False)

    def _deadlock(self, program: Path) -> None:
        """Two threads that wait for one another, until the run is ended for that."""
        program.write_text(DEADLOCK, encoding="utf-8")
        self.window.models.workspace.open(program)
        self._wait(self._is_over, "the end of the run in which nobody can go on")
        self.window.show_view(ThreadsView)
        self._act("last")
        self._picture("threads")
