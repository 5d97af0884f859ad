"""All kinds of clues, found in the folders of `kinds`: a new one is a module there, and nothing else."""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Mapping
from functools import cache

from eelgrass.reading.clues import kinds
from eelgrass.reading.clues.clue import Kind


@cache
def families() -> Mapping[str, tuple[Kind, ...]]:
    """The kinds of each family, by the family's name, which is the first line of its folder's docstring."""
    found = {}
    for folder in sorted(its.name for its in pkgutil.iter_modules(kinds.__path__)):
        family = importlib.import_module(f"{kinds.__name__}.{folder}")
        names = sorted(its.name for its in pkgutil.iter_modules(family.__path__))
        modules = [importlib.import_module(f"{family.__name__}.{name}") for name in names]
        found[(family.__doc__ or "").strip().rstrip(".")] = tuple(its.KIND for its in modules)
    return found


@cache
def all_kinds() -> tuple[Kind, ...]:
    """The kinds of all families."""
    return tuple(kind for its in families().values() for kind in its)


@cache
def kind_of(id_: str) -> Kind | None:
    """A kind by its id."""
    return next((kind for kind in all_kinds() if kind.id == id_), None)
