"""Importing: which modules are woven, and how the import system comes to give us their text."""

from __future__ import annotations

import os
from collections.abc import Callable
from importlib.machinery import SourceFileLoader
from types import CodeType

#: Makes woven code of (source bytes, file name).
Weave = Callable[[bytes, str], CodeType]


def weave_imports(folder: str, opened: frozenset[str], weave: Weave, seed: int | None) -> None:
    """From now on, modules whose file lies in `folder`, and those in `opened` by name, are woven when imported. With a
    `seed`, the modules that draw random numbers begin with it.

    The loader's class is given another `get_code`, rather than a loader of our own a place in `sys.meta_path`, so that
    a module's `__loader__` and `__spec__` are what they are in a plain run. Nothing is read from or written to
    `__pycache__` for woven modules.
    """
    plain_get_code = SourceFileLoader.get_code
    inside = os.path.join(os.path.realpath(folder), "")

    def get_code(self: SourceFileLoader, fullname: str) -> CodeType | None:
        path = self.get_filename(fullname)
        if seed is not None and fullname in ("random", "numpy.random"):
            return compile(self.get_data(path) + b"\nseed(%d)\n" % seed, path, "exec", dont_inherit=True)
        if fullname in opened or _is_own(os.path.realpath(path), inside):
            return weave(self.get_data(path), path)
        return plain_get_code(self, fullname)

    SourceFileLoader.get_code = get_code  # type: ignore[method-assign, assignment]


def _is_own(path: str, inside: str) -> bool:
    """Whether a file is the program's own: in its folder, but not in an environment of libraries kept there."""
    return path.startswith(inside) and "site-packages" not in path.split(os.sep)
