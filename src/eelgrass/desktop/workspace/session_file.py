"""What is kept of a program between two times, as a file, and where that and the drafts of its texts lie."""

from __future__ import annotations

import hashlib
import json
from contextlib import suppress
from pathlib import Path
from typing import TypeVar

import msgspec
import platformdirs

from eelgrass.desktop.services.disk_writer import DiskWriter
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.desk_check_sheets import Sheet
from eelgrass.desktop.session.view_options import TableLayout
from eelgrass.lessons.answering.answer import Answer, Evidence
from eelgrass.lessons.cases.case import Case
from eelgrass.reading.breakpoints.breakpoint import Breakpoint

_Kind = TypeVar("_Kind")
#: A file that is larger than this is not believed.
_MOST_BYTES = 1 << 25


class KeptLeave(msgspec.Struct, frozen=True):
    """As `runs.order.Leave`."""

    display: bool = False
    network: bool = False
    folders: tuple[str, ...] = ()
    unguarded: bool = False


class SavedSession(msgspec.Struct, frozen=True):
    """What is kept for one program; `texts` are, by file, those that the breakpoints' lines are of; of `desk_checks`,
    the first is being filled in if `fills_in`."""

    cases: list[Case] = []
    breakpoints: list[Breakpoint] = []
    texts: dict[str, str] = {}
    questions: list[str] = []
    answer: Answer | None = None
    pictures: list[str] = []
    table: TableLayout = msgspec.field(default_factory=TableLayout)
    desk_checks: tuple[Sheet, ...] = ()
    fills_in: bool = False
    trails: tuple[Evidence, ...] = ()
    leave: KeptLeave = KeptLeave()


class Draft(msgspec.Struct, frozen=True):
    """A text that is being edited and not saved: of which file, and what that held when the editing began, by its
    SHA-256 (None: there was no file)."""

    file: str
    text: str
    base: str | None


def _name(path: Path) -> str:
    return hashlib.sha256(str(path.resolve()).encode("utf-8", "surrogateescape")).hexdigest()[:24]


def _state() -> Path:
    return Path(platformdirs.user_state_dir("eelgrass"))


def session_path(program: Path) -> Path:
    """Where the session of a program is kept."""
    return _state() / "programs" / f"{_name(program)}.json"


def runs_folder(program: Path) -> Path:
    """Where the last runs of a program are kept."""
    return _state() / "runs" / _name(program)


def case_run_path(program: Path, case: str) -> Path:
    """Where the run is kept that a case of a program is held against."""
    return _state() / "cases" / _name(program) / f"{_name(Path(case))}.eelrec"


def decisions_path(exercise: Path) -> Path:
    """Where it is kept what was decided about the class sets of an exercise."""
    return _state() / "class-sets" / f"{_name(exercise)}.json"


def drafts_folder(program: Path) -> Path:
    """Where the drafts of a program's texts are kept."""
    return _state() / "drafts" / _name(program)


def draft_path(program: Path, file: str) -> Path:
    """Where the draft of one of its texts is kept."""
    return drafts_folder(program) / f"{_name(Path(file))}.json"


def load(program: Path, writer: DiskWriter) -> tuple[SavedSession, str]:
    """(what was kept for a program, a sentence when it was damaged and is put aside, or '')."""
    path = session_path(program)
    session, trouble = _read(path, SavedSession, writer)
    return session or SavedSession(), trouble


def load_drafts(program: Path, writer: DiskWriter) -> tuple[list[Draft], str]:
    """(the drafts of a program's texts, a sentence when one was damaged and is put aside, or '')."""
    folder = drafts_folder(program)
    paths = writer.pending_in(folder)
    with suppress(OSError):
        paths = sorted({*folder.glob("*.json"), *paths})
    found = [*_old_draft(program), *(_read(path, Draft, writer) for path in paths)]
    return [draft for draft, _ in found if draft is not None], " ".join(trouble for _, trouble in found if trouble)


def _old_draft(program: Path) -> list[tuple[Draft, str]]:
    """What earlier versions kept: the text of the main module alone. It comes back, and is kept as drafts are now."""
    old = _state() / "drafts" / f"{_name(program)}.py"
    try:
        text = old.read_text(encoding="utf-8")
        old.unlink()
        base = hashlib.sha256(program.read_bytes()).hexdigest()
    except (OSError, ValueError):
        return []
    return [(Draft(str(program.absolute()), text, base), "")]


def encoded(its: SavedSession | Draft) -> bytes:
    """As a file holds it."""
    try:
        return msgspec.json.encode(its)
    except UnicodeEncodeError:  # half a character, as names of files may hold
        return json.dumps(msgspec.to_builtins(its)).encode()


def _decoded(data: bytes, kind: type[_Kind]) -> _Kind:
    try:
        return msgspec.json.decode(data, type=kind)
    except msgspec.DecodeError:
        return msgspec.convert(json.loads(data), type=kind)


def _read(path: Path, kind: type[_Kind], writer: DiskWriter) -> tuple[_Kind | None, str]:
    try:
        data = writer.read(path, _MOST_BYTES + 1)
        return (None if data is None else _decoded(data, kind)), ""
    except OSError as error:
        return None, tr("What was kept of this program cannot be read: {0}.").format(error.strerror)
    except (ValueError, RecursionError):
        aside = path.with_suffix(".damaged")
        with suppress(OSError):
            path.replace(aside)
        return None, tr("What was kept of this program is damaged, and was put aside as {0}.").format(aside)
