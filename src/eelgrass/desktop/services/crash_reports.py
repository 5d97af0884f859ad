"""An error of ours: the person is told, a report is written, and nothing of theirs is lost."""

from __future__ import annotations

import platform
import sys
import threading
import traceback
from datetime import datetime
from pathlib import Path
from types import TracebackType

import platformdirs
from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass import __version__
from eelgrass.desktop.services.translation import tr

_MOST_REPORTS = 20


def reports_folder() -> Path:
    """Where reports are written."""
    return Path(platformdirs.user_state_dir("eelgrass")) / "reports"


def report(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> Path | None:
    """Writes what went wrong into a file; None where that cannot be."""
    folder = reports_folder()
    lines = [f"Eelgrass {__version__}, Python {platform.python_version()}, {platform.platform()}\n\n"]
    lines += traceback.format_exception(kind, error, trace)
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for old in sorted(folder.glob("*.txt"))[: -_MOST_REPORTS + 1]:
            old.unlink()
        path = folder / f"{datetime.now():%Y-%m-%d-%H%M%S-%f}.txt"
        path.write_text("".join(lines), encoding="utf-8", errors="replace")
    except OSError:
        return None
    return path


class CrashReports(QObject):
    """Takes the errors that nobody else takes, on whatever thread; the window goes on. Signal: `told(sentence)`, on the
    window's thread."""

    told = pyqtSignal(str)

    def install(self) -> None:
        """From now on, errors of all threads come here."""
        sys.excepthook = self.take
        threading.excepthook = self._take_of_thread

    def _take_of_thread(self, told: threading.ExceptHookArgs) -> None:
        if told.exc_type is not SystemExit and told.exc_value is not None:
            self.take(told.exc_type, told.exc_value, told.exc_traceback)

    def take(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        """Reports one error, and tells of it in a sentence."""
        sys.__excepthook__(kind, error, trace)
        path = report(kind, error, trace)
        where = tr(" A report is in {0}.").format(path) if path else ""
        sentence = tr("Something went wrong in Eelgrass itself ({0}). Your program and text are safe.{1}")
        self.told.emit(sentence.format(kind.__name__, where))
