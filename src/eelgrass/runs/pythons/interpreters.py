"""The interpreter that runs a program: Eelgrass's own, or another that the person names."""

from __future__ import annotations

import json
import subprocess
import sys
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
    def reads_as_ours(self) -> bool:
        """Whether its grammar is that of Eelgrass's own Python."""
        return self.version[:2] == sys.version_info[:2]

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
        place = _place(file)
    except OSError as error:
        raise CannotRunError(f"There is no Python at “{file}”: {error.strerror}.") from error
    if place not in _answers:
        try:
            _answers[place] = _asked(place[0])
        except CannotRunError as error:
            _answers[place] = error
    answer = _answers[place]
    if isinstance(answer, CannotRunError):
        raise answer
    return answer


#: What was asked before; that it cannot be used, too. By file, and when that was changed last.
_answers: dict[tuple[Path, int], Interpreter | CannotRunError] = {}


def _place(file: Path) -> tuple[Path, int]:
    return file.absolute(), file.stat().st_ctime_ns


def is_known(file: Path | None) -> bool:
    """Whether `interpreter` can tell at once what is there."""
    try:
        return file is None or str(file) == sys.executable or _place(file) in _answers
    except OSError:
        return True


def _asked(file: Path) -> Interpreter:
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


def check_text_by(its: Interpreter, program: Path, text: str | None) -> None:
    """As `check_text`, by the grammar of the interpreter that is to run the program."""
    if its.reads_as_ours:
        check_text(program, text)
        return
    source = program.read_bytes() if text is None else text.encode("utf-8", "replace")
    command = [str(its.file), "-I", "-c", _COMPILING, str(program)]
    try:
        done = subprocess.run(command, input=source, capture_output=True, check=True, timeout=_SECONDS)
        found = json.loads(done.stdout or "null")
    except (subprocess.SubprocessError, ValueError) as error:
        raise CannotRunError(f"“{its.file}” does not answer as a Python does.") from error
    if found is not None:
        line, at, message = found
        raise not_understood(program, line, at, message, text)
