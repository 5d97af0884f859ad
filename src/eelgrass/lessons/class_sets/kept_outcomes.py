"""What came of runs before: what has not changed is not run again."""

from __future__ import annotations

import contextlib
import sqlite3
import threading
from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import TypeVar

import msgspec
import platformdirs

from eelgrass import __version__
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.class_sets.outcomes import Outcome, digest
from eelgrass.lessons.exercises.exercise import Exercise
from eelgrass.runs.pythons.choosing import choice

_Told = TypeVar("_Told")
#: So many are kept; the oldest go.
_MOST = 200_000
#: Whoever waits for the file waits so long; without it, all is run.
_PATIENCE_SECONDS = 5.0


def usual_file() -> Path:
    """Where they are kept, unless somebody says otherwise."""
    return Path(platformdirs.user_cache_dir("eelgrass")) / "outcomes.sqlite"


class KeptOutcomes:
    """Outcomes by what was run. A file that cannot be read or written is as none: all is run then. May be asked from
    any thread."""

    def __init__(self, file: Path | None) -> None:
        self._lock = threading.Lock()
        self._connection: sqlite3.Connection | None = None
        with contextlib.suppress(OSError, sqlite3.Error):
            self._connection = _opened(file) if file is not None else None

    def get(self, key: str) -> Outcome | None:
        """What came of it, if that is known."""
        rows = self._do(lambda its: its.execute("SELECT told FROM outcomes WHERE key = ?", (key,)).fetchall())
        with contextlib.suppress(msgspec.DecodeError):  # a validation error is one, too
            return msgspec.json.decode(rows[0][0], type=Outcome) if rows else None
        return None

    def put(self, key: str, outcome: Outcome) -> None:
        """Keeps what came of a run. One that hangs on how busy the machine was is not kept."""
        if outcome.word not in ("stopped", "could not run"):
            row = (key, msgspec.json.encode(outcome))
            self._do(lambda its: its.execute("INSERT OR REPLACE INTO outcomes (key, told) VALUES (?, ?)", row))

    def close(self) -> None:
        """Forgets the oldest of too many."""
        self._do(
            lambda its: its.execute(
                "DELETE FROM outcomes WHERE rowid <= (SELECT max(rowid) FROM outcomes) - ?", (_MOST,)
            )
        )
        self._do(lambda its: its.close())
        self._connection = None

    def _do(self, ask: Callable[[sqlite3.Connection], _Told]) -> _Told | None:
        """What the file answers; None where there is none, or no longer."""
        with self._lock:
            if self._connection is not None:
                try:
                    return ask(self._connection)
                except sqlite3.Error:
                    self._connection = None
            return None


def _opened(file: Path) -> sqlite3.Connection:
    """Each outcome is written at once, and nobody waits for the disk: several windows may use the file, and what is
    lost is run again. One that is damaged is begun anew."""
    file.parent.mkdir(parents=True, exist_ok=True)
    try:
        return _connected(file)
    except sqlite3.OperationalError:
        raise  # it is locked, or lies where nothing can be written
    except sqlite3.DatabaseError:
        file.unlink()
        return _connected(file)


def _connected(file: Path) -> sqlite3.Connection:
    connection = sqlite3.connect(file, timeout=_PATIENCE_SECONDS, check_same_thread=False, isolation_level=None)
    connection.execute("PRAGMA journal_mode = WAL")
    connection.execute("PRAGMA synchronous = OFF")
    connection.execute("CREATE TABLE IF NOT EXISTS outcomes (key TEXT PRIMARY KEY, told BLOB)")
    return connection


def kept_key(files: str, case: Case, text: str) -> str:
    """What stands for a run: `files` is that of `files_key`."""
    return digest(files, msgspec.json.encode(case).decode(), text)


def files_key(exercise: Exercise) -> str:
    """What stands for all that a run of an exercise hangs on besides its text and its case. Raises OSError."""
    files = sorted(exercise.files())
    names = (str(its.relative_to(exercise.folder)) for its in files)
    held = (its.read_bytes().decode("latin-1") for its in files)
    python = choice(exercise.folder).interpreter
    return digest(__version__, str(_changed()), str(python.python), str(python.version), *names, *held)


@cache
def _changed() -> int:
    """When the newest of what runs and judges was changed, so that nothing from before that is believed."""
    return max(its.stat().st_mtime_ns for its in Path(__file__).parents[2].rglob("*.py"))
