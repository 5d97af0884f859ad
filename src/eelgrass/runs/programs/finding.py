"""Which program is meant by a file or folder, and whether it is one at all."""

from __future__ import annotations

import tokenize
from pathlib import Path

from eelgrass.runs.order import CannotRunError

#: The endings of files that are taken for programs whatever is in them.
PROGRAMS = (".py", ".pyw")
_MOST_NAMED = 6


class SeveralProgramsError(CannotRunError):
    """A folder has several programs, and nothing tells with which to start."""

    def __init__(self, folder: Path, programs: list[Path]) -> None:
        names = ", ".join(program.name for program in programs[:_MOST_NAMED])
        super().__init__(f"The folder “{folder}” has several programs ({names}). Open the one to start with.")
        self.programs = programs


def find_program(path: Path) -> Path:
    """The program that `path` means: the file itself, or the one to start with in a folder.

    Raises CannotRunError, with a sentence, when there is none or when it cannot be told which.
    """
    try:
        if path.is_dir():
            return _first_module(path)
        if not path.exists():
            raise CannotRunError(f"There is no file or folder called “{path}”.")
        if not path.is_file():  # a pipe would be waited for
            raise CannotRunError(f"“{path}” is neither a file nor a folder.")
        with path.open("rb"):
            return path
    except OSError as error:
        raise CannotRunError(f"“{path}” cannot be read: {error.strerror}.") from error


def _first_module(folder: Path) -> Path:
    programs = sorted(its for its in folder.glob("*.py") if its.is_file())
    if not programs:
        raise CannotRunError(f"The folder “{folder}” has no Python program in it (no file whose name ends in .py).")
    for name in ("__main__.py", "main.py", f"{folder.resolve().name}.py"):
        if folder / name in programs:
            return folder / name
    if len(programs) == 1:
        return programs[0]
    starting = [program for program in programs if b"__main__" in _beginning(program)]
    if len(starting) == 1:
        return starting[0]
    raise SeveralProgramsError(folder, programs)


def _beginning(program: Path) -> bytes:
    with program.open("rb") as file:
        return file.read(_MOST_BYTES)


#: A longer text nobody has written.
_MOST_BYTES = 16 << 20


def check_content(path: Path) -> None:
    """Raises CannotRunError for a file that is empty, too large, no program, or in an encoding that it does not
    declare, and OSError."""
    name = path.name
    with path.open("rb") as file:
        content = file.read(_MOST_BYTES + 1)
    if len(content) > _MOST_BYTES:
        raise CannotRunError(f"“{name}” is too large for a program: it has more than {_MOST_BYTES >> 20} MiB.")
    if not content.strip():
        raise CannotRunError(f"“{name}” is empty: there is nothing in it to run.")
    if b"\0" in content:
        raise CannotRunError(f"“{name}” is no Python program: what is in it is no text.")
    lines = iter(content.splitlines(keepends=True))
    try:
        encoding, _ = tokenize.detect_encoding(lambda: next(lines, b""))
    except SyntaxError as error:
        raise _not_in(name, content, "utf-8", str(error.msg)) from error
    try:
        content.decode(encoding)
    except UnicodeDecodeError as error:
        raise _not_in(name, content, encoding, "") from error
    except (LookupError, UnicodeError) as error:
        raise CannotRunError(f"“{name}” cannot be read: no program can be written in “{encoding}”.", 1) from error
    if path.suffix not in PROGRAMS and not content.startswith(b"#!"):
        try:
            compile(content, name, "exec", dont_inherit=True)
        except (SyntaxError, ValueError) as error:
            raise CannotRunError(f"“{name}” is no Python program: Python cannot read it as one.") from error


def _not_in(name: str, content: bytes, encoding: str, why: str) -> CannotRunError:
    if why.startswith("unknown encoding"):
        return CannotRunError(f"“{name}” cannot be read: there is no encoding called “{why.rpartition(': ')[2]}”.", 1)
    try:
        content.decode(encoding)
        line = 1
    except UnicodeDecodeError as error:
        line = content.count(b"\n", 0, error.start) + 1
    known = "UTF-8, and it does not say in what else" if encoding.startswith("utf-8") else f"“{encoding}”, as it says"
    return CannotRunError(
        f"“{name}” cannot be read: from line {line} on it is not written in {known}. Save it as UTF-8, or begin it "
        "with a line like “# coding: latin-1”.",
        line,
    )
