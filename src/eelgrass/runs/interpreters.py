"""The interpreter that runs a program: Eelgrass's own, or another that the person names."""

from __future__ import annotations

import json
import subprocess
import sys
from functools import lru_cache
from pathlib import Path
from typing import NamedTuple

from eelgrass.runs.order import CannotRunError

#: The oldest version whose programs can be recorded.
OLDEST = (3, 11)
_SECONDS = 30
_QUESTION = (
    "import json, sys; print(json.dumps([sys.implementation.name, list(sys.version_info[:3]), sys.path[1:], "
    "getattr(sys, '_is_gil_enabled', lambda: True)()]))"
)


class Interpreter(NamedTuple):
    """A Python that programs can be run by: its file, its version, and where it looks for modules."""

    file: Path
    version: tuple[int, int, int]
    path: tuple[str, ...]

    @property
    def name(self) -> str:
        """What it is called on the screen."""
        return "Python " + ".".join(map(str, self.version))


def interpreter(file: Path | None) -> Interpreter:
    """The interpreter at a place, or Eelgrass's own. Raises CannotRunError, with a sentence, when programs cannot be
    recorded with what is there."""
    if file is None:
        version = sys.version_info
        return Interpreter(Path(sys.executable), (version.major, version.minor, version.micro), tuple(sys.path[1:]))
    try:
        return _asked(file.absolute(), file.stat().st_mtime_ns)
    except OSError as error:
        raise CannotRunError(f"There is no Python at “{file}”: {error.strerror}.") from error


@lru_cache
def _asked(file: Path, _changed: int) -> Interpreter:
    try:
        done = subprocess.run(
            [file, "-I", "-c", _QUESTION], capture_output=True, check=True, timeout=_SECONDS, stdin=subprocess.DEVNULL
        )
        kind, (major, minor, micro), path, has_lock = json.loads(done.stdout)
        found = Interpreter(file, (int(major), int(minor), int(micro)), tuple(map(str, path)))
    except OSError as error:
        raise CannotRunError(f"“{file}” cannot be started: {error.strerror}.") from error
    except (subprocess.SubprocessError, ValueError, TypeError) as error:
        raise CannotRunError(f"“{file}” does not answer as a Python does.") from error
    if kind != "cpython":
        raise CannotRunError(f"“{file}” is another kind of Python ({kind}); programs are recorded with CPython.")
    if found.version[:2] < OLDEST:
        oldest = ".".join(map(str, OLDEST))
        raise CannotRunError(f"“{file}” is {found.name}; programs can be recorded from Python {oldest} on.")
    if not has_lock:
        raise CannotRunError(f"“{file}” is a free-threaded Python, with which programs cannot be recorded.")
    return found
