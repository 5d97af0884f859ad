"""What the open program may reach besides its own folder, by the person's leave; kept for that program alone."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path
from typing import Literal

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.messages import Choice
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.workspace.session_file import KeptLeave
from eelgrass.desktop.workspace.session_store import SessionStore
from eelgrass.reading.recording import Recording
from eelgrass.runs.confinement import UNGUARDED
from eelgrass.runs.order import Leave

Wish = Literal["display", "network", "folder"]
#: The exceptions by which a program shows that it wants to reach something.
_WANTS_DISPLAY = ("TclError", "pygame.error")
_WANTS_NETWORK = ("gaierror", "URLError", "ConnectionError", "ConnectTimeout", "HTTPError")
_UNREACHABLE = "Network is unreachable"
_REFUSED_FILE = re.compile(r"^(?:PermissionError|FileNotFoundError): \[Errno \d+\] .*: '(/.*)'")


class ProgramLeave(QObject):
    """`leave` is what it may reach. Signals: `changed`; `asked(str, Path)` when the person wants to be asked about a
    wish of the program, with the folder that it wishes for; `granted(Leave)` when nothing more is to be asked."""

    changed = pyqtSignal()
    asked = pyqtSignal(str, object)
    granted = pyqtSignal(object)

    def __init__(self, store: SessionStore) -> None:
        super().__init__()
        self.leave = Leave()
        store.leave = lambda: kept(self.leave)

    def begin(self, its: KeptLeave) -> None:
        """A program is opened, with what was kept of it."""
        self.leave = Leave(its.display, its.network, tuple(map(Path, its.folders)), its.unguarded)
        self.changed.emit()

    def give(self, leave: Leave) -> None:
        """The person lets the program reach this, and no more."""
        self.leave = leave
        self.changed.emit()

    @property
    def words(self) -> str:
        """What it may reach, in few words; '' for its own folder alone."""
        told = [tr("windows")] if self.leave.display else []
        told += [tr("network")] if self.leave.network else []
        told += [folder.name for folder in self.leave.folders]
        return tr("may reach: {0}").format(", ".join(told)) if told else ""

    def why(self, recording: Recording) -> str:
        """What a run that ended could not reach, in a sentence; '' where there is no such thing."""
        wish, folder = self._wish(recording)
        told = {
            "display": tr("It wanted to show a window of its own, and has no leave for that."),
            "network": tr("It wanted to use the network, and has no leave for that."),
            "folder": tr("It wanted to use a file in {0}, and has no leave for that.").format(folder),
        }
        return told[wish] if wish is not None else ""

    def after(self, recording: Recording) -> tuple[Choice, ...]:
        """What can be done about a run that ended because it could not reach something."""
        if recording.trace.outcome.reason == UNGUARDED and not self.leave.unguarded:
            freed = replace(self.leave, unguarded=True)
            return (Choice(tr("Run it all the same"), lambda: self.granted.emit(freed)),)
        wish, folder = self._wish(recording)
        if wish is None:
            return ()
        return (Choice(tr("Give it leave…"), lambda: self.asked.emit(wish, folder)),)

    def _wish(self, recording: Recording) -> tuple[Wish | None, Path | None]:
        outcome = recording.trace.outcome
        reason = outcome.reason or ""
        if outcome.outcome != "raised":
            return None, None
        if reason.startswith(_WANTS_DISPLAY) and not self.leave.display:
            return "display", None
        if (reason.startswith(_WANTS_NETWORK) or _UNREACHABLE in reason) and not self.leave.network:
            return "network", None
        found = _REFUSED_FILE.match(reason)
        folder = Path(found[1]).parent if found else None
        return ("folder", folder) if folder is not None and folder.is_dir() else (None, None)


def kept(leave: Leave) -> KeptLeave:
    """As a file keeps it."""
    return KeptLeave(leave.display, leave.network, tuple(map(str, leave.folders)), leave.unguarded)
