"""What is kept for a program: cases (what it is started with and what is typed, by name), breakpoints, and the
questions that stay in view (needs P3, R5, F1)."""

from __future__ import annotations

import hashlib
from pathlib import Path

import msgspec
import platformdirs

from eelgrass.lessons.answer import Answer
from eelgrass.lessons.case import Case
from eelgrass.reading.breakpoints import Breakpoint
from eelgrass.trace.atomic import replaced

#: A file of cases that is larger than this is not believed.
_MOST_BYTES = 1 << 22


class Kept(msgspec.Struct, frozen=True):
    """What is kept for one program; `texts` are, by file, those that the breakpoints' lines are of."""

    cases: list[Case] = []
    breakpoints: list[Breakpoint] = []
    texts: dict[str, str] = {}
    questions: list[str] = []
    answer: Answer | None = None


def _file(program: Path) -> Path:
    name = hashlib.sha256(str(program.resolve()).encode("utf-8", "surrogateescape")).hexdigest()[:24]
    return Path(platformdirs.user_state_dir("eelgrass")) / "programs" / f"{name}.json"


def kept(program: Path) -> Kept:
    """What was kept for a program; nothing where there is nothing to be read."""
    try:
        with _file(program).open("rb") as file:
            return msgspec.json.decode(file.read(_MOST_BYTES), type=Kept)
    except (OSError, ValueError):
        return Kept()


def keep(program: Path, its: Kept) -> None:
    """Keeps it, written in one go. Raises OSError."""
    target = _file(program)
    target.parent.mkdir(parents=True, exist_ok=True)
    with replaced(target) as file:
        file.write(msgspec.json.encode(its))
