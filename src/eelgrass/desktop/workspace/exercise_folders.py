"""Where exercises and a student's own copies of them lie: nothing that was handed out is written into."""

from __future__ import annotations

import hashlib
import tempfile
from pathlib import Path

import platformdirs

from eelgrass.desktop.services.translation import tr
from eelgrass.errors import FileError
from eelgrass.lessons.demo_lesson import FOLDER
from eelgrass.lessons.exercises.exercise import MANIFEST, Exercise, copy_files, load, unpack


def documents() -> Path:
    """The folder of exercises among the person's documents."""
    return Path(platformdirs.user_documents_dir()) / "Eelgrass"


def _handed_out() -> Path:
    return Path(platformdirs.user_state_dir("eelgrass")) / "exercises"


def unpacked(path: Path) -> Exercise:
    """A packed exercise in a folder that nobody writes into; the same one again is not unpacked again. Raises
    ExerciseError and FileError."""
    try:
        return _unpacked(path)
    except OSError as error:
        raise FileError(tr("{0} cannot be unpacked: {1}.").format(path.name, "{0}"), error) from error


def _unpacked(path: Path) -> Exercise:
    with path.open("rb") as file:
        digest = hashlib.file_digest(file, "sha256").hexdigest()[:8]
    folder = _handed_out() / f"{path.stem} {digest}"
    if not folder.exists():
        folder.parent.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryDirectory(dir=folder.parent) as made:
            unpack(path, Path(made) / "whole")
            (Path(made) / "whole").rename(folder)  # so that there is never half of one
    return load(folder)


def is_handed_out(exercise: Exercise) -> bool:
    """Whether an exercise is one that came with Eelgrass, or packed: its folder is not to be written into."""
    return exercise.folder.is_relative_to(FOLDER) or exercise.folder.is_relative_to(_handed_out())


def work_of(exercise: Exercise) -> Path:
    """Where a student's copy of the program is, or would be."""
    name, folder = exercise.folder.name, exercise.folder
    if not is_handed_out(exercise):
        name += " " + hashlib.sha256(str(folder.resolve()).encode("utf-8", "surrogateescape")).hexdigest()[:8]
    return documents() / name / exercise.program.relative_to(folder)


def copy_of(exercise: Exercise) -> Path:
    """Copies an exercise, without what is sealed, for a student to write in; gives its program. Raises OSError."""
    work = work_of(exercise)
    inner = exercise.program.relative_to(exercise.folder)
    folder = work.parents[len(inner.parts) - 1]
    copy_files((exercise.folder / MANIFEST, *exercise.files()), exercise.folder, folder)
    return work
