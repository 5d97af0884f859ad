"""Exercises: a program that is wrong, what it should do, and, sealed, where and why it is wrong.

The format is described in `docs/formats/exercise.md`. Folders and files are untrusted: paths stay inside, sizes are
limited, and nothing of a program runs here.
"""

from __future__ import annotations

import base64
import re
import shutil
import zipfile
import zlib
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from pathlib import Path, PurePosixPath
from typing import Annotated, TypeVar

import msgspec

from eelgrass.atomic_write import replaced
from eelgrass.errors import EelgrassError
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.exercises.marked_lines import MarkedLine
from eelgrass.lessons.exercises.plan import DeskCheck, PlannedQuestion, RouteStop

MANIFEST = "exercise.toml"
SUFFIX = ".eelx"
SEALED_FOLDER, SEALED_FILE = "sealed", "sealed.txt"
FORMAT = 1
#: After no number of hints.
NEVER = -1
MOST_FILES = 500
MOST_BYTES = 50 << 20
_MOST_TEXT = 1 << 20
#: Keys of so many parts, which readers of TOML take the square of their number for, and brackets: no exercise has such.
_DOTTED = re.compile(rb"(?<![\w\-.])(?:[\w\-]++\s*+\.\s*+){40}")
_MOST_BRACKETS = 50_000

_Told = TypeVar("_Told")
_Line = Annotated[int, msgspec.Meta(ge=1)]


class ExerciseError(EelgrassError):
    """An exercise that cannot be used; the message is a sentence for the person."""


class Sealed(msgspec.Struct, frozen=True):
    """What is not for the student's first glance: the faulty lines of the program's main module, and `elsewhere` those
    of others, why they are wrong, and the texts of the model program by file."""

    lines: tuple[_Line, ...] = ()
    reason: str = ""
    model: dict[str, str] = {}
    elsewhere: tuple[MarkedLine, ...] = ()


class _Manifest(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    format: int
    title: str
    program: str
    task: str = ""
    hints: tuple[str, ...] = ()
    trails_after: Annotated[int, msgspec.Meta(ge=0)] = 0
    first_wrong_after: Annotated[int, msgspec.Meta(ge=0)] | None = None
    clues_after: Annotated[int, msgspec.Meta(ge=NEVER)] = 0
    case: tuple[Case, ...] = ()
    point: tuple[PlannedQuestion, ...] = ()
    stop: tuple[RouteStop, ...] = ()
    desk_check: tuple[DeskCheck, ...] = ()


class _SealedManifest(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    lines: tuple[_Line, ...] = ()
    reason: str = ""
    model: str = ""
    elsewhere: tuple[MarkedLine, ...] = ()


@dataclass(frozen=True)
class Exercise:
    """An exercise in its folder. `task` and `hints` are Markdown; `trails_after`: how many hints have to be unlocked
    before trails can be asked for; `first_wrong_after`: how many before a failed case says where it first does
    otherwise than the model (None: it never does); `clues_after`: how many before clues are shown (NEVER: they are
    not); `points` are where to ask, `stops` the route; `sealed` is None where
    it was left out."""

    folder: Path
    program: Path
    title: str
    task: str = ""
    hints: tuple[str, ...] = ()
    cases: tuple[Case, ...] = ()
    points: tuple[PlannedQuestion, ...] = ()
    stops: tuple[RouteStop, ...] = ()
    desk_checks: tuple[DeskCheck, ...] = ()
    sealed: Sealed | None = field(default=None, repr=False)
    trails_after: int = 0
    first_wrong_after: int | None = None
    clues_after: int = 0

    @property
    def model(self) -> str | None:
        """The text of the model program, if it is known."""
        name = self.program.relative_to(self.folder).as_posix()
        return self.sealed.model.get(name) if self.sealed is not None else None

    def files(self) -> Iterator[Path]:
        """What a run of the program may read: all files of the folder but those of the exercise itself."""
        for path in all_files(self.folder):
            inside = path.relative_to(self.folder)
            if inside.parts[0] not in (MANIFEST, SEALED_FOLDER, SEALED_FILE):
                yield path


def load(folder: Path) -> Exercise:
    """Reads an exercise from its folder. Raises ExerciseError."""
    told = _read(folder / MANIFEST, _Manifest)
    if told.format != FORMAT:
        raise ExerciseError(f"“{folder.name}” is an exercise of format {told.format}; this Eelgrass reads {FORMAT}.")
    program = _inside(folder, told.program)
    if not program.is_file():
        raise ExerciseError(f"The exercise “{folder.name}” has no program “{told.program}”.")
    sum(1 for _ in all_files(folder))  # which looks at their number and sizes
    plan = (told.point, told.stop, told.desk_check)
    sealed = _sealed(folder, program)
    return Exercise(
        folder,
        program,
        told.title,
        told.task,
        told.hints,
        told.case,
        *plan,
        sealed,
        trails_after=told.trails_after,
        first_wrong_after=told.first_wrong_after,
        clues_after=told.clues_after,
    )


def open_either(path: Path, folder: Path) -> Exercise:
    """Reads an exercise from its folder, or unpacks a packed one into an empty `folder`. Raises ExerciseError."""
    return unpack(path, folder) if path.suffix == SUFFIX else load(path)


def copy_files(files: Iterable[Path], source: Path, target: Path) -> None:
    """Copies files of one folder to the same places in another. Raises OSError."""
    for path in files:
        copy = target / path.relative_to(source)
        copy.parent.mkdir(parents=True, exist_ok=True)
        shutil.copyfile(path, copy)


def is_exercise(path: Path) -> bool:
    """Whether a path is an exercise: a folder of one, or one packed for handing out."""
    return (path / MANIFEST).is_file() or (path.suffix == SUFFIX and path.is_file())


def pack(exercise: Exercise, target: Path, with_sealed: bool = True) -> None:
    """Writes an exercise as one file for handing out, its sealed part out of plain sight, or left out.
    Raises OSError."""
    with replaced(target) as file, zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.write(exercise.folder / MANIFEST, MANIFEST)
        for path in exercise.files():
            archive.write(path, path.relative_to(exercise.folder).as_posix())
        if with_sealed and exercise.sealed is not None:
            archive.writestr(SEALED_FILE, seal(exercise.sealed))


def unpack(file: Path, folder: Path) -> Exercise:
    """Unpacks an exercise into an empty folder. Raises ExerciseError, before anything is written where a name or a
    size is wrong."""
    try:
        with zipfile.ZipFile(file) as archive:
            entries = [entry for entry in archive.infolist() if not entry.filename.endswith("/")]
            if len(entries) > MOST_FILES or sum(entry.file_size for entry in entries) > MOST_BYTES:
                raise ExerciseError(f"“{file.name}” holds too much for an exercise.")
            targets = [_inside(folder, entry.filename) for entry in entries]
            for entry, target in zip(entries, targets, strict=True):
                target.parent.mkdir(parents=True, exist_ok=True)
                with archive.open(entry) as packed:
                    data = packed.read(entry.file_size + 1)
                if len(data) != entry.file_size:
                    raise ExerciseError(f"“{file.name}” is damaged: “{entry.filename}” has another size than it says.")
                target.write_bytes(data)
    except (zipfile.BadZipFile, zlib.error, EOFError, RuntimeError, NotImplementedError) as error:
        raise ExerciseError(f"“{file.name}” is no exercise, or it is damaged ({error}).") from error
    return load(folder)


# The sealed part


def seal(sealed: Sealed) -> bytes:
    """The sealed part as text that nobody reads by accident; anybody who wants to can."""
    return base64.encodebytes(zlib.compress(msgspec.json.encode(sealed)))


def unseal(data: bytes) -> Sealed:
    """What was sealed. Raises ExerciseError."""
    try:
        inflating = zlib.decompressobj()
        text = inflating.decompress(base64.decodebytes(data), _MOST_TEXT)
        return msgspec.json.decode(text, type=Sealed)
    except (ValueError, zlib.error, msgspec.DecodeError) as error:
        raise ExerciseError(f"The sealed part of the exercise cannot be read ({error}).") from error


def _sealed(folder: Path, program: Path) -> Sealed | None:
    if (folder / SEALED_FILE).is_file():
        return unseal(_bytes(folder / SEALED_FILE))
    if not (folder / SEALED_FOLDER / "sealed.toml").is_file():
        return None
    told = _read(folder / SEALED_FOLDER / "sealed.toml", _SealedManifest)
    model = {}
    if told.model:
        text = _bytes(_inside(folder / SEALED_FOLDER, told.model)).decode("utf-8", "replace")
        model = {program.relative_to(folder).as_posix(): text}
    return Sealed(told.lines, told.reason, model, told.elsewhere)


# Files


def _read(path: Path, type_: type[_Told]) -> _Told:
    data = _bytes(path)
    if _DOTTED.search(data) or data.count(b"[") + data.count(b"{") > _MOST_BRACKETS:
        raise ExerciseError(f"“{path.name}” of the exercise is nested too deeply.")
    try:
        return msgspec.toml.decode(data, type=type_)
    except (ValueError, msgspec.DecodeError, RecursionError) as error:
        raise ExerciseError(f"“{path.name}” of the exercise is not as it should be: {error}.") from error


def _bytes(path: Path) -> bytes:
    try:
        with path.open("rb") as file:
            data = file.read(_MOST_TEXT + 1)
    except OSError as error:
        raise ExerciseError(f"“{path.name}” of the exercise cannot be read: {error.strerror}.") from error
    if len(data) > _MOST_TEXT:
        raise ExerciseError(f"“{path.name}” of the exercise is too large.")
    return data


def _inside(folder: Path, name: str) -> Path:
    """The path of a name in a folder. Raises ExerciseError for one that leads out of it."""
    inside = PurePosixPath(name)
    is_wrong = inside.is_absolute() or ".." in inside.parts or not inside.parts or "\\" in name or "\0" in name
    target = folder.joinpath(*inside.parts) if not is_wrong else folder
    if is_wrong or not target.resolve().is_relative_to(folder.resolve()):
        raise ExerciseError(f"The exercise names a file outside of its folder: “{name}”.")
    return target


def all_files(folder: Path) -> Iterator[Path]:
    """The regular files of a folder; no links, and nothing hidden, like what is just being written. Raises
    ExerciseError where there are too many, or too large ones."""
    count = size = 0
    for path in sorted(folder.rglob("*")):
        inner = path.relative_to(folder).parts
        if path.is_symlink() or not path.is_file() or "__pycache__" in inner or any(its[0] == "." for its in inner):
            continue
        count, size = count + 1, size + path.stat().st_size
        if count > MOST_FILES or size > MOST_BYTES:
            raise ExerciseError(f"The folder “{folder.name}” holds too much for an exercise.")
        yield path
