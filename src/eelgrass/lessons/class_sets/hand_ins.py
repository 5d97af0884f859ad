"""What was handed in: programs and answers in files, folders and zips, a file or a folder for each student."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path, PurePosixPath

from eelgrass.lessons.answering import answer
from eelgrass.runs.texts import source_text

#: Larger files are no programs of students; so many of them are looked at.
_MOST_BYTES, _MOST_FILES = 1 << 20, 20_000
#: So much is read of a zip in all: a small one may stand for more than the machine holds.
_MOST_OF_A_ZIP = 64 << 20
_ZIP, _PROGRAM = ".zip", ".py"
_READ = (_PROGRAM, _ZIP, answer.SUFFIX)


@dataclass(frozen=True)
class HandIn:
    """One student's: its name as it came, and the program's text; or what keeps it from being one, in a sentence."""

    name: str
    text: str = ""
    trouble: str = ""


@dataclass(frozen=True)
class _File:
    """A file: where it lies in what was handed in, and its bytes (None: too large; none of a file of another
    kind, which nobody reads)."""

    path: PurePosixPath
    data: bytes | None


def hand_ins(paths: Sequence[Path], program: str) -> list[HandIn]:
    """All that lies at some places, in the order of their names: a file is one; of a folder or a zip, each file in it,
    and each folder. `program` is what the exercise's own is called. Raises OSError for a place that cannot be read."""
    found = []
    for path in paths:
        is_many = path.is_dir() or path.suffix == _ZIP
        files = list(_files(path))
        if not is_many:
            found.append(_of(str(path), files, program))
            continue
        by_student: dict[str, list[_File]] = {}
        for its in files:
            by_student.setdefault(its.path.parts[0], []).append(its)
        found += [_of(name, own, program) for name, own in sorted(by_student.items()) if _is_handed_in(name, own)]
    return found


def _is_handed_in(name: str, files: list[_File]) -> bool:
    """Whether it is anybody's: a file of another kind beside the hand-ins is nobody's."""
    return len(files) > 1 or files[0].path.name != name or files[0].path.suffix in _READ


def _files(path: Path) -> Iterator[_File]:
    if path.is_dir():
        found = (its for its in sorted(path.rglob("*")) if its.is_file() and not its.is_symlink())
        for count, its in enumerate(found):
            if count == _MOST_FILES:
                break
            inner = PurePosixPath(its.relative_to(path).as_posix())
            if not _is_hidden(inner):
                yield _file(its, inner)
    elif path.suffix == _ZIP:
        yield from _zipped(path.read_bytes())
    else:
        yield _file(path, PurePosixPath(path.name))


def _file(path: Path, inner: PurePosixPath) -> _File:
    if inner.suffix not in _READ:
        return _File(inner, b"")
    return _File(inner, path.read_bytes() if path.stat().st_size <= _MOST_BYTES else None)


def _zipped(data: bytes) -> Iterator[_File]:
    """The files of a zip; nothing for what is none. Names that lead out of it are only names here."""
    left = _MOST_OF_A_ZIP
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            for its in archive.infolist()[:_MOST_FILES]:
                path = PurePosixPath(its.filename)
                if its.is_dir() or _is_hidden(path) or not path.parts:
                    continue
                most, read = min(_MOST_BYTES, left), b""
                if path.suffix in _READ:
                    with archive.open(its) as file:
                        read = file.read(most + 1)  # whatever it says of its size
                left = max(0, left - len(read))
                yield _File(path, read if len(read) <= most else None)
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError, OSError, ValueError):
        return


def _is_hidden(path: PurePosixPath) -> bool:
    return any(part.startswith((".", "__")) and part != "__init__.py" for part in path.parts)


def _of(name: str, files: list[_File], program: str) -> HandIn:
    """What one student handed in, whatever the file is called."""
    inner = [one for its in files for one in (_zipped(its.data) if its.path.suffix == _ZIP and its.data else (its,))]
    answers = [its for its in inner if its.path.suffix == answer.SUFFIX]
    programs = [its for its in inner if its.path.suffix == _PROGRAM]
    stem = program.removesuffix(_PROGRAM).lower()
    for chosen in (
        [its for its in programs if its.path.name == program],
        [its for its in programs if its.path.name.lower().startswith(stem)],
        programs,
    ):
        if len(chosen) == 1:
            return _read(name, chosen[0])
    if len(answers) == 1 and not programs:
        return _answered(name, answers[0])
    return HandIn(name, trouble="There are several programs in it." if programs else "There is no program in it.")


def _read(name: str, its: _File) -> HandIn:
    if its.data is None:
        return HandIn(name, trouble="The program is larger than any that is written by hand.")
    return HandIn(name, source_text.decoded(its.data))


def _answered(name: str, its: _File) -> HandIn:
    try:
        told = answer.decoded(its.data or b"", name)
    except answer.AnswerError as error:
        return HandIn(name, trouble=str(error))
    return HandIn(name, told.program) if told.program else HandIn(name, trouble="The answer has no program in it.")
