"""Where a person's own copies of exercises lie: nothing that was handed out, or is being made, is written into."""

from __future__ import annotations

import hashlib
import shutil
from itertools import count
from pathlib import Path

import platformdirs

from eelgrass.lessons.exercise import MANIFEST, SEALED_FOLDER, Exercise, load, packed_manifest, unpack
from eelgrass.lessons.lesson import FOLDER


def documents() -> Path:
    """The folder of exercises among the person's documents."""
    return Path(platformdirs.user_documents_dir()) / "Eelgrass"


def unpacked(path: Path) -> Exercise:
    """A packed exercise in a folder among the person's documents; the same one again is not unpacked again. Raises
    ExerciseError and OSError."""
    manifest = packed_manifest(path)
    for number in count(1):
        folder = documents() / (path.stem if number == 1 else f"{path.stem} {number}")
        if not folder.exists():
            folder.mkdir(parents=True)
            return unpack(path, folder)
        if (folder / MANIFEST).is_file() and (folder / MANIFEST).read_bytes() == manifest:
            return load(folder)
        if not any(folder.iterdir()):
            return unpack(path, folder)
    raise AssertionError("there are numbers without end")


def work_of(exercise: Exercise) -> Path:
    """Where a student's copy of the program is, or would be; the program itself where it is a copy already."""
    folder = exercise.folder
    if folder.is_relative_to(FOLDER):
        folder = documents() / folder.name
    elif not folder.is_relative_to(documents()):
        name = hashlib.sha256(str(folder.resolve()).encode("utf-8", "surrogateescape")).hexdigest()[:8]
        folder = documents() / f"{folder.name} {name}"
    return folder / exercise.program.relative_to(exercise.folder)


def copy_of(exercise: Exercise) -> Path:
    """Copies an exercise, without what is sealed, for a student to write in; gives its program. Raises OSError."""
    work = work_of(exercise)
    inner = exercise.program.relative_to(exercise.folder)
    folder = work.parents[len(inner.parts) - 1]
    left_out = shutil.ignore_patterns(SEALED_FOLDER, "__pycache__")
    shutil.copytree(exercise.folder, folder, dirs_exist_ok=True, ignore=left_out)
    return work
