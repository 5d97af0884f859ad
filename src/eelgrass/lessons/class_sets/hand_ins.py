"""What was handed in: programs and answers in files, folders and zips, a file or a folder for each student."""

from __future__ import annotations

import io
import zipfile
import zlib
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path, PurePosixPath
from typing import TypeVar

from eelgrass.errors import EelgrassError
from eelgrass.lessons.answering.answer import SUFFIX, Answer, AnswerError, decoded
from eelgrass.lessons.exercises.exercise import Exercise
from eelgrass.runs.texts import source_text

#: Larger files are no programs of students; so many of them are looked at.
_MOST_BYTES, _MOST_FILES = 1 << 20, 20_000
#: So much is read of a zip in all: a small one may stand for more than the machine holds.
_MOST_OF_A_ZIP = 64 << 20
_ZIP, _PROGRAM = ".zip", ".py"
_READ = (_PROGRAM, _ZIP, SUFFIX)
_TOO_LARGE = "The program is larger than any that is written by hand."
#: What reading a zip raises that is none, is damaged, or is locked by a password.
_DAMAGED = (zipfile.BadZipFile, zlib.error, NotImplementedError, RuntimeError, EOFError, OSError, ValueError)
#: What a file is called in what is said of it, which a class may see.
_NOBODYS = "what was handed in"
_Found = TypeVar("_Found")


@dataclass(frozen=True)
class HandIn:
    """One student's: its name as it came, and the program's text; or what keeps it from being one, in a sentence.
    `turn` is how many of the same name came before, in places that were given earlier. An answer has besides the lines
    that were marked as faulty, as written ("7", "gauges.py 3"), and is kept whole, to be handed back."""

    name: str
    text: str = ""
    trouble: str = ""
    turn: int = 0
    marked: tuple[str, ...] = ()
    answer: Answer | None = field(default=None, compare=False, repr=False)

    @property
    def reason(self) -> str:
        """Why the marked lines are wrong, in the student's words."""
        return self.answer.reason if self.answer is not None else ""


class HandInsError(EelgrassError):
    """A place that is none where things are handed in; the message is a sentence for the person."""


@dataclass(frozen=True)
class _File:
    """A file: where it lies in what was handed in, and its bytes (none of a file of another kind, which nobody reads),
    or why they cannot be had, in a sentence."""

    path: PurePosixPath
    data: bytes = b""
    trouble: str = ""


def hand_ins(paths: Sequence[Path], exercise: Exercise) -> list[HandIn]:
    """All that lies at some places, in the order of their names: a file is one; of a folder or a zip, each file in it,
    and each folder. Raises HandInsError, and OSError for a place that cannot be read."""
    found, turns = list[HandIn](), Counter[str]()
    for path in paths:
        for its in _at(path, exercise):
            found.append(replace(its, turn=turns[its.name]))
            turns[its.name] += 1
    return found


def latest(handed: Iterable[HandIn]) -> list[HandIn]:
    """Of several of the same name the last one, where the first one stood."""
    return list({its.name: its for its in handed}.values())


def _at(path: Path, exercise: Exercise) -> list[HandIn]:
    files = list(_files(path))
    if not path.is_dir() and path.suffix != _ZIP:
        return [_of(str(path), files, exercise)]
    by_student: dict[str, list[_File]] = {}
    for its in files:
        by_student.setdefault(its.path.parts[0], []).append(its)
    return [_of(name, own, exercise) for name, own in sorted(by_student.items()) if _is_handed_in(name, own)]


def _is_handed_in(name: str, files: list[_File]) -> bool:
    """Whether it is anybody's: a file of another kind beside the hand-ins is nobody's."""
    return len(files) > 1 or files[0].path.name != name or files[0].path.suffix in _READ


def _files(path: Path) -> Iterator[_File]:
    if path.is_dir():
        found = (its for its in sorted(path.rglob("*")) if its.is_file() and not its.is_symlink())
        for its in _not_too_many(found, path.name):
            inner = PurePosixPath(its.relative_to(path).as_posix())
            if not _is_hidden(inner):
                yield _file(its, inner)
    elif path.suffix == _ZIP:
        yield from _zipped(path.read_bytes(), path.name)
    else:
        yield _file(path, PurePosixPath(path.name))


def _not_too_many(found: Iterable[_Found], name: str) -> Iterator[_Found]:
    for count, its in enumerate(found):
        if count == _MOST_FILES:
            raise HandInsError(f"There are more than {_MOST_FILES:,} files in “{name}”.")
        yield its


def _file(path: Path, inner: PurePosixPath) -> _File:
    if inner.suffix not in _READ:
        return _File(inner)
    try:
        with path.open("rb") as file:
            return _bounded(inner, file.read(_MOST_BYTES + 1), _MOST_BYTES)
    except OSError as error:
        return _File(inner, trouble=f"It cannot be read: {error.strerror}.")


def _bounded(path: PurePosixPath, data: bytes, most: int) -> _File:
    return _File(path, data) if len(data) <= most else _File(path, trouble=_TOO_LARGE)


def _zipped(data: bytes, name: str) -> Iterator[_File]:
    """The files of a zip, those that are damaged among them. Names that lead out of it are only names here. Raises
    HandInsError for what is none."""
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
    except _DAMAGED as error:
        raise HandInsError(f"“{name}” is no zip, or it is damaged ({error}).") from error
    left = _MOST_OF_A_ZIP
    with archive:
        for its in _not_too_many(archive.infolist(), name):
            path = PurePosixPath(its.filename)
            if its.is_dir() or _is_hidden(path) or not path.parts:
                continue
            most = min(_MOST_BYTES, left)
            try:
                read = b""
                if path.suffix in _READ:
                    with archive.open(its) as file:
                        read = file.read(most + 1)  # whatever it says of its size
                left = max(0, left - len(read))
                yield _bounded(path, read, most)
            except _DAMAGED as error:
                yield _File(path, trouble=f"It is damaged, or locked ({error}).")


def _unpacked(its: _File) -> Iterable[_File]:
    """The files of a zip that a student handed in; of one that is none, itself."""
    if its.path.suffix != _ZIP or its.trouble:
        return (its,)
    try:
        return list(_zipped(its.data, _NOBODYS))
    except HandInsError as error:
        return (_File(its.path, trouble=str(error)),)


def _is_hidden(path: PurePosixPath) -> bool:
    return any(part.startswith((".", "__")) and part != "__init__.py" for part in path.parts)


def _of(name: str, files: list[_File], exercise: Exercise) -> HandIn:
    """What one student handed in, whatever the file is called."""
    inner = [one for its in files for one in _unpacked(its)]
    answers = [its for its in inner if its.path.suffix == SUFFIX]
    programs = [its for its in inner if its.path.suffix == _PROGRAM]
    program = exercise.program.name
    stem = exercise.program.stem.lower()
    for chosen in (
        [its for its in programs if its.path.name == program],
        [its for its in programs if its.path.name.lower().startswith(stem)],
        programs,
    ):
        if len(chosen) == 1:
            return _read(name, chosen[0])
    if len(answers) == 1 and not programs:
        return _answered(name, answers[0], exercise.title)
    damaged = next((its.trouble for its in inner if its.trouble), "There is no program in it.")
    return HandIn(name, trouble="There are several programs in it." if programs else damaged)


def _read(name: str, its: _File) -> HandIn:
    return HandIn(name, trouble=its.trouble) if its.trouble else HandIn(name, source_text.decoded(its.data))


def _answered(name: str, its: _File, title: str) -> HandIn:
    if its.trouble:
        return HandIn(name, trouble=its.trouble)
    try:
        told = decoded(its.data, _NOBODYS)
    except AnswerError as error:
        return HandIn(name, trouble=str(error))
    if told.exercise != title:
        return HandIn(name, trouble=f"This is an answer to “{told.exercise}”, not to this exercise.")
    marked = (*map(str, told.lines), *(f"{its.file} {its.line}" for its in told.elsewhere))
    text = told.program or told.given
    if not text:
        return HandIn(name, trouble="The answer has no program in it.", marked=marked, answer=told)
    return HandIn(name, text, marked=marked, answer=told)
