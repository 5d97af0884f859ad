"""Drives a real window without a person: acts, waits for states, takes pictures."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QEventLoop, QTimer
from PyQt6.QtWidgets import QApplication, QWidget

from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.trace.files import recording_file

#: A state that does not come within this time after the last sign of life will not come at all.
_PATIENCE_MS = 30_000


class TourDriver:
    """Pictures and recordings go to `outdir`."""

    def __init__(self, outdir: Path) -> None:
        self.outdir = outdir
        self.window = MainWindow()

    def _wait(self, reached: Callable[[], bool], what: str, signal: Any = None) -> None:
        """Goes on when `reached`; `signal` can bring it about, if none is given, the desk's. Each time that it comes,
        patience begins anew: a slow machine comes further, too."""
        loop, patience = QEventLoop(), QTimer()
        patience.setSingleShot(True)
        patience.timeout.connect(loop.quit)

        def come() -> None:
            patience.start(_PATIENCE_MS)
            if reached():
                loop.quit()

        heard = (signal or self.window.models.run.changed).connect(come)
        patience.start(_PATIENCE_MS)
        if not reached():
            loop.exec()
        (signal or self.window.models.run.changed).disconnect(heard)
        if not reached():
            raise TimeoutError(f"{what} did not happen")

    def _picture(self, name: str, shown: QWidget | None = None) -> None:
        """A picture of the reading window, or of what else is shown."""
        QApplication.processEvents()  # lets layouts settle
        (shown or self.window).grab().save(str(self.outdir / f"{name}.png"))

    def _save(self, name: str) -> None:
        assert self.window.models.parts.session.recording is not None
        recording_file.save(self.window.models.parts.session.recording.trace, self.outdir / f"{name}.eelrec")

    def _is_over(self) -> bool:
        models = self.window.models
        runs = models.run.runner.is_running or models.launch.is_asking
        return not runs and models.parts.session.recording is not None

    def _act(self, *names: str) -> None:
        for name in names:
            self.window.actions_by_id[name].trigger()

    def _visit(self, line: int, number: int) -> None:
        recording = self.window.models.parts.session.recording
        assert recording is not None
        self.window.models.parts.session.go(int(recording.visits.of_line(0, line)[number]))

    def _line_with(self, text: str) -> int:
        recording = self.window.models.parts.session.recording
        assert recording is not None
        lines = recording.trace.program.modules[0].lines
        return next(number for number, line in enumerate(lines, 1) if text in line)
