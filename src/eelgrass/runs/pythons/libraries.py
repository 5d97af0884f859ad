"""Library modules: whether they are there, and can be recorded inside, without importing anything."""

from __future__ import annotations

import _imp
import sys
from importlib.machinery import EXTENSION_SUFFIXES, ModuleSpec, PathFinder
from pathlib import Path

from eelgrass.runs.order import CannotRunError


def check_libraries(names: tuple[str, ...], folder: Path, path: tuple[str, ...] = ()) -> None:
    """Raises CannotRunError, with a sentence, for the first of the names that is no module written in Python which a
    program in `folder` can import, by an interpreter that looks for modules along `path`, or by Eelgrass's own."""
    for name in names:
        trouble = _trouble(name, [str(folder), *(path or sys.path[1:])])
        if trouble:
            raise CannotRunError(trouble)


def can_be_imported(name: str, folder: Path, path: tuple[str, ...] = ()) -> bool:
    """Whether there is a module or package of this name along the same way."""
    return PathFinder.find_spec(name, [str(folder), *(path or sys.path[1:])]) is not None


def _trouble(name: str, path: list[str]) -> str:
    parts = name.split(".")
    if parts[0] in sys.builtin_module_names or _imp.is_frozen(parts[0]):
        return f"“{name}” cannot be looked into: it is part of the interpreter itself."
    where: list[str] | None = path
    found: ModuleSpec | None = None
    for place in range(len(parts)):
        found = PathFinder.find_spec(".".join(parts[: place + 1]), where) if all(parts) and where else None
        if found is None:
            return f"There is no module called “{name}” that the program could import."
        where = None if found.submodule_search_locations is None else list(found.submodule_search_locations)
    if found is not None and (found.origin or "").endswith(tuple(EXTENSION_SUFFIXES)):
        return f"“{name}” cannot be looked into: it is not written in Python."
    return ""
