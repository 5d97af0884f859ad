"""An error of ours: the person is told, a report is written, and nothing of theirs is lost (need X4)."""

from __future__ import annotations

import platform
import sys
import traceback
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from types import TracebackType

import platformdirs

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


def catch(tell: Callable[[str, bool], None]) -> None:
    """From now on an error that nobody else takes is reported and told as a sentence, and the window goes on."""

    def hook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        sys.__excepthook__(kind, error, trace)
        path = report(kind, error, trace)
        where = tr(" A report is in {0}.").format(path) if path else ""
        tell(
            tr("Something went wrong in Eelgrass itself ({0}). Your program and text are safe.{1}").format(
                kind.__name__, where
            ),
            True,
        )

    sys.excepthook = hook
