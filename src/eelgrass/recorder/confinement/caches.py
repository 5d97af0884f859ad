"""What packages keep in a person's home and would make anew, with a warning, where they do not find it: a confined
program gets a copy of it."""

from __future__ import annotations

import os
from collections.abc import Mapping

#: By the variable that says where a package looks: the folder of its own, where that usually is, and how the names of
#: the files begin that are wanted of it.
_CACHES = {"MPLCONFIGDIR": ("matplotlib", "~/.cache/matplotlib", "fontlist-")}
_MOST_BYTES = 4 << 20

Kept = Mapping[str, Mapping[str, bytes]]


def kept() -> Kept:
    """By variable, the files that a person has of it, and what is in them."""
    found: dict[str, dict[str, bytes]] = {}
    for variable, (_, usual, begins) in _CACHES.items():
        files = found.setdefault(variable, {})
        folder = os.environ.get(variable, os.path.expanduser(usual))
        try:
            for name in os.listdir(folder):
                if name.startswith(begins):
                    with open(os.path.join(folder, name), "rb") as file:
                        files[name] = file.read(_MOST_BYTES)
        except OSError:
            continue  # there is none yet
    return found


def put(its: Kept, temporary: str) -> None:
    """Puts them below the program's folder for temporary files, and says so in its environment."""
    for variable, files in its.items():
        folder = os.path.join(temporary, _CACHES[variable][0])
        os.makedirs(folder, exist_ok=True)
        os.environ[variable] = folder
        for name, data in files.items():
            with open(os.path.join(folder, name), "wb") as file:
                file.write(data)
