"""The interpreter that runs a program: Eelgrass's own, or another that the person names."""

from __future__ import annotations

import json
import subprocess
import sys
from functools import lru_cache
from pathlib import Path
from typing import NamedTuple

from eelgrass.runs.order import CannotRunError, check_text, not_understood

#: The oldest version whose programs can be recorded.
OLDEST = (3, 11)
_SECONDS = 30
_QUESTION = (
    "import json, sys; print(json.dumps([sys.implementation.name, list(sys.version_info[:3]), sys.path[1:], "
    "getattr(sys, '_is_gil_enabled', lambda: True)(), sys.executable, sys.prefix]))"
)

#: Compiles what it is given, as what its arguments name; says where and why that cannot be.
_COMPILING = """
import json, sys, warnings
warnings.simplefilter("ignore")
try:
    compile(sys.stdin.buffer.read(), sys.argv[1], "exec", dont_inherit=True)
except SyntaxError as error:
    print(json.dumps([error.lineno, error.text, error.msg]))
except (ValueError, RecursionError, MemoryError):
    pass  # which running it says
"""


class Interpreter(NamedTuple):
    """A Python that programs can be run by: its file, its version, where it looks for modules, and the folder of the
    environment or installation that it belongs to."""

    file: Path
    version: tuple[int, int, int]
    path: tuple[str, ...]
    prefix: str

    @property
    def name(self) -> str:
        """What it is called on the screen."""
        return "Python " + ".".join(map(str, self.version))

    @property
    def short_name(self) -> str:
        """As `name`, without the last part of the version."""
        return self.name.rpartition(".")[0]

    @property
    def python(self) -> Path | None:
        """Its file, as `Order.python` has it: None for Eelgrass's own."""
        return None if self.prefix == sys.prefix and self.version == sys.version_info[:3] else self.file


def interpreter(file: Path | None) -> Interpreter:
    """The interpreter at a place, or Eelgrass's own. Raises CannotRunError, with a sentence, when programs cannot be
    recorded with what is there."""
    if file is None or str(file) == sys.executable:
        version = sys.version_info
        whole = (version.major, version.minor, version.micro)
        return Interpreter(Path(sys.executable), whole, tuple(sys.path[1:]), sys.prefix)
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
        kind, (major, minor, micro), path, has_lock, itself, prefix = json.loads(done.stdout)
        version = int(major), int(minor), int(micro)
        # Which may be another file than the one asked, where that only finds the one to start.
        found = Interpreter(Path(str(itself)), version, tuple(map(str, path)), str(prefix))
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


def check_text_by(file: Path | None, program: Path, text: str | None) -> None:
    """As `check_text`, by the grammar of the interpreter that is to run the program."""
    if file is None or interpreter(file).version[:2] == sys.version_info[:2]:
        check_text(program, text)
        return
    source = program.read_bytes() if text is None else text.encode("utf-8", "replace")
    command = [str(file), "-I", "-c", _COMPILING, str(program)]
    done = subprocess.run(command, input=source, capture_output=True, check=False, timeout=_SECONDS)
    if done.stdout:
        line, at, message = json.loads(done.stdout)
        raise not_understood(program, line, at, message)
