"""Which Python runs the programs of a folder: the one that the person chose for it, that of the folder's own
environment, the `python3` of the PATH, or Eelgrass's own; in this order."""

from __future__ import annotations

import os
import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

import msgspec
import platformdirs

from eelgrass.atomic_write import replace_file
from eelgrass.runs.order import CannotRunError
from eelgrass.runs.pythons.interpreters import Interpreter, interpreter, is_known

#: Says, for all folders, which Python runs programs.
VARIABLE = "EELGRASS_PYTHON"
#: Where an environment lies in the folder that it belongs to.
ENVIRONMENTS = (".venv", "venv", "env")
#: A program's environment lies beside it, or in the folder of its project, so many folders up at most.
_MOST_FOLDERS_UP = 8
_MOST_BYTES = 1 << 20


class Place(NamedTuple):
    """Where a Python was found: its file, None for Eelgrass's own, and in what words."""

    file: Path | None
    words: str


class Choice(NamedTuple):
    """The Python that runs a folder's programs, and where it was found, in words."""

    interpreter: Interpreter
    words: str


_ON_PATH = "of the PATH"
OURS = Place(None, "Eelgrass's own")


def choice(folder: Path) -> Choice:
    """The Python for a folder, which may have to be asked what it is. Raises CannotRunError, with a sentence, when the
    one that was chosen, or that of the folder's environment, cannot be used; a `python3` of the PATH that cannot be is
    passed over."""
    for place in _first(folder):
        try:
            return Choice(interpreter(place.file), place.words)
        except CannotRunError as error:
            if place.words != _ON_PATH:
                raise CannotRunError(f"{error} Choose another Python for this folder.") from error
    return Choice(interpreter(OURS.file), OURS.words)


def known(folder: Path) -> Choice | None:
    """As `choice`, but at once: None where it would have to be asked."""
    return choice(folder) if all(is_known(place.file) for place in _first(folder)) else None


def _first(folder: Path) -> list[Place]:
    """The Python that comes first for a folder; none where only Eelgrass's own is left."""
    told = os.environ.get(VARIABLE)
    if told:
        return [Place(Path(told), VARIABLE)]
    return [*_kept_choice(folder), *_environments(folder), *_on_path()][:1]


def offered(folder: Path) -> list[Place]:
    """Every Python that can be chosen for a folder, as far as is known without asking them."""
    kept = [place for place in _kept_choice(folder) if place.file is not None]
    return list({place.file: place for place in [*_environments(folder), *_on_path(), OURS, *kept]}.values())


def choose(folder: Path, file: Path | None) -> None:
    """Keeps which Python runs the programs of a folder; None: Eelgrass's own. Raises OSError."""
    _keep({**_kept(), str(folder.resolve()): str(file.absolute()) if file is not None else ""})


def choose_usual(folder: Path) -> None:
    """No Python is chosen for a folder any longer. Raises OSError."""
    _keep({name: python for name, python in _kept().items() if name != str(folder.resolve())})


def _store() -> Path:
    return Path(platformdirs.user_state_dir("eelgrass")) / "pythons.json"


def _kept() -> dict[str, str]:
    """By folder, the Python that was chosen; what cannot be read is as if nothing had been."""
    try:
        with _store().open("rb") as file:
            return msgspec.json.decode(file.read(_MOST_BYTES), type=dict[str, str])
    except (OSError, msgspec.MsgspecError, ValueError):
        return {}


def _keep(choices: dict[str, str]) -> None:
    _store().parent.mkdir(parents=True, exist_ok=True)
    replace_file(_store(), msgspec.json.encode(choices))


def _kept_choice(folder: Path) -> list[Place]:
    python = _kept().get(str(folder.resolve()))
    return [] if python is None else [Place(Path(python) if python else None, "chosen")]


def _environments(folder: Path) -> Iterator[Place]:
    for one in _project(folder):
        for name in ENVIRONMENTS:
            python = one / name / "bin" / "python"
            if (one / name / "pyvenv.cfg").is_file() and os.path.lexists(python):  # not one of another system
                yield Place(python, name)
    active = os.environ.get("VIRTUAL_ENV")
    if active and (Path(active) / "pyvenv.cfg").is_file():
        yield Place(Path(active) / "bin" / "python", "active environment")


def _project(folder: Path) -> list[Path]:
    """The folder, and those above it up to the one of its project, if it has one."""
    folder = folder.resolve()
    above = [folder, *folder.parents][:_MOST_FOLDERS_UP]
    roots = [place for place, one in enumerate(above) if (one / "pyproject.toml").is_file()]
    return above[: roots[0] + 1] if roots else [folder]


def _on_path() -> list[Place]:
    file = shutil.which("python3")
    return [] if file is None else [Place(Path(file), _ON_PATH)]
