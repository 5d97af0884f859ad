"""Cases of a program: what it is started with and what is typed into it, kept by name (needs P3, R5)."""

from __future__ import annotations

import hashlib
from pathlib import Path

import msgspec
import platformdirs

from eelgrass.trace.atomic import replaced

#: A file of cases that is larger than this is not believed.
_MOST_BYTES = 1 << 22


class Case(msgspec.Struct, frozen=True):
    """One case: its name, the program's arguments, and the lines that are typed."""

    name: str
    arguments: tuple[str, ...] = ()
    input: tuple[str, ...] = ()


#: What a program has before anything is kept.
USUAL = Case("usual")


def _file(program: Path) -> Path:
    name = hashlib.sha256(str(program.resolve()).encode("utf-8", "surrogateescape")).hexdigest()[:24]
    return Path(platformdirs.user_state_dir("eelgrass")) / "cases" / f"{name}.json"


def kept(program: Path) -> list[Case]:
    """The cases that were kept for a program; none where there are none to be read."""
    try:
        with _file(program).open("rb") as file:
            return msgspec.json.decode(file.read(_MOST_BYTES), type=list[Case])
    except (OSError, ValueError):
        return []


def keep(program: Path, cases: list[Case]) -> None:
    """Keeps the cases of a program, written in one go. Raises OSError."""
    target = _file(program)
    target.parent.mkdir(parents=True, exist_ok=True)
    with replaced(target) as file:
        file.write(msgspec.json.encode(cases))
