"""Pythons of other versions, where they are on this machine."""

from __future__ import annotations

import shutil
from pathlib import Path

import pytest

_PLACES = ("/usr/bin", "/usr/local/bin", *map(str, Path.home().glob(".pyenv/versions/*/bin")))


def python_of(version: str) -> Path:
    """The file of a Python of this version; skips the test where there is none."""
    found = shutil.which(f"python{version}", path=":".join(_PLACES))
    if found is None:
        pytest.skip(f"there is no Python {version} on this machine")
    return Path(found)
