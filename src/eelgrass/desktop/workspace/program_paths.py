"""Which program a path stands for. That of a notebook's cells lies in a folder of its own, with links to what lies
beside the notebook."""

from __future__ import annotations

import hashlib
import shutil
from contextlib import suppress
from pathlib import Path

import platformdirs

from eelgrass.desktop.services.translation import tr
from eelgrass.errors import FileError
from eelgrass.runs.programs.finding import check_content, find_program
from eelgrass.runs.programs.notebooks import SUFFIX, program_text

#: What the cells were when the program was made of them.
_AS_MADE = ".as_made"


def program_at(path: Path) -> Path:
    """The program that a file, folder or notebook stands for; nothing is written into a notebook. Raises
    CannotRunError, SeveralProgramsError and FileError."""
    try:
        if path.suffix == SUFFIX and path.is_file():
            return _program_of(path)
        program = find_program(path)
        check_content(program)
        return program
    except OSError as error:
        raise FileError(tr("“{0}” cannot be opened: {1}.").format(path.name, "{0}"), error) from error


def beside(program: Path) -> tuple[Path, ...]:
    """The folder of the notebook that a program was made of, which it reads by links; empty for any other program."""
    if not program.is_relative_to(_notebooks()):
        return ()
    return tuple({its.resolve().parent for its in program.parent.iterdir() if its.is_symlink()})


def _notebooks() -> Path:
    return Path(platformdirs.user_state_dir("eelgrass")) / "notebooks"


def _program_of(notebook: Path) -> Path:
    """The program of a notebook's code cells as they are now, or as the person has changed it. Raises CannotRunError
    and OSError."""
    text = program_text(notebook)
    digest = hashlib.sha256(str(notebook.resolve()).encode("utf-8", "surrogateescape")).hexdigest()[:8]
    folder = _notebooks() / f"{notebook.stem} {digest}"
    folder.mkdir(parents=True, exist_ok=True)
    program, made = folder / f"{notebook.stem}.py", folder / _AS_MADE
    for its in folder.iterdir():
        if its.is_symlink():
            its.unlink()
    for its in notebook.resolve().parent.iterdir():
        _put_beside(its, folder / its.name, program)
    if not program.exists() or (made.exists() and program.read_text("utf-8") == made.read_text("utf-8")):
        program.write_text(text, "utf-8")
        made.write_text(text, "utf-8")
    return program


def _put_beside(its: Path, target: Path, program: Path) -> None:
    """Modules are the program's own, and copied; all else is linked."""
    if target == program or its.name.startswith("."):
        return
    if its.suffix == ".py" and its.is_file():
        shutil.copy2(its, target)
    else:
        with suppress(FileExistsError):
            target.symlink_to(its)
