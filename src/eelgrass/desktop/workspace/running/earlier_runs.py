"""The last runs of each program, kept with their texts and cases: “it worked a minute ago” can be looked at."""

from __future__ import annotations

import contextlib
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QObject

from eelgrass.desktop.services.disk_writer import DiskWriter
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.workspace.running.program_run import ProgramRun
from eelgrass.desktop.workspace.session_file import runs_folder
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.reading.recording import Recording
from eelgrass.trace.files import recording_file

#: So many runs of a program are kept, and so many bytes of all programs' together; the oldest go first.
MOST_RUNS = 10
MOST_BYTES = 200_000_000


@dataclass(frozen=True)
class EarlierRun:
    """A run that was kept: its file, and when it was made, in words."""

    file: Path
    words: str


class EarlierRuns(QObject):
    """Keeps each run of the open program's own text when it has ended, on the disk writer's thread."""

    def __init__(self, workspace: Workspace, run: ProgramRun, writer: DiskWriter) -> None:
        super().__init__()
        self._workspace = workspace
        self._writer = writer
        self.latest: Path | None = None
        run.ended.connect(self._keep)

    def _keep(self, recording: Recording) -> None:
        program = self._workspace.program
        if program is None or self._workspace.reads_along:
            return
        file = runs_folder(program) / f"{time.time_ns() // 1_000_000}.eelrec"
        trouble = tr("This run could not be kept for later comparison: {0}.")
        self._writer.run(runs_folder(program), lambda: _save(recording, file), trouble)
        self.latest = file

    def offered(self) -> Iterator[EarlierRun]:
        """The runs of the open program that were kept, the latest first, but for the one that was made last."""
        program = self._workspace.program
        for file in _kept(runs_folder(program)) if program is not None else ():
            if file != self.latest:
                yield EarlierRun(file, tr("the run of {0}").format(_when(file)))


def _when(file: Path) -> str:
    made = time.localtime(int(file.stem) / 1000)
    today = made[:3] == time.localtime()[:3]
    return time.strftime("%H:%M:%S" if today else "%Y-%m-%d %H:%M", made)


def _kept(folder: Path) -> list[Path]:
    """The runs in a folder, the latest first."""
    files = [file for file in folder.glob("*.eelrec") if file.stem.isdecimal()] if folder.is_dir() else []
    return sorted(files, key=lambda file: int(file.stem), reverse=True)


def _save(recording: Recording, file: Path) -> None:
    """Raises OSError."""
    file.parent.mkdir(parents=True, exist_ok=True)
    recording_file.save(recording.trace, file)
    for old in _kept(file.parent)[MOST_RUNS:]:
        old.unlink(missing_ok=True)
    everywhere = sorted(file.parent.parent.glob("*/*.eelrec"), key=lambda its: its.name, reverse=True)
    in_all = 0
    for its in everywhere:
        with contextlib.suppress(FileNotFoundError):  # another window has just taken it away
            in_all += its.stat().st_size
            if in_all > MOST_BYTES and its != file:
                its.unlink(missing_ok=True)
