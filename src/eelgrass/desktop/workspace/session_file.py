"""What is kept for a program: cases (what it is started with and what is typed, by name), breakpoints, the
questions and pictures that stay in view, and how trace tables are laid out (needs P3, R5, F1)."""

from __future__ import annotations

import hashlib
from pathlib import Path

import msgspec
import platformdirs

from eelgrass.atomic_write import replaced
from eelgrass.lessons.answer import Answer
from eelgrass.lessons.case import Case
from eelgrass.reading.breakpoints.breakpoint import Breakpoint

#: A file of cases that is larger than this is not believed.
_MOST_BYTES = 1 << 22


class TableLayout(msgspec.Struct):
    """How trace tables are laid out: expressions that were added, by kind of table the titles of its columns in their
    order, widths in pixels by title, and the titles that are hidden."""

    expressions: list[str] = []
    columns: dict[str, list[str]] = {}
    widths: dict[str, int] = {}
    hidden: set[str] = set()


class SavedSession(msgspec.Struct, frozen=True):
    """What is kept for one program; `texts` are, by file, those that the breakpoints' lines are of."""

    cases: list[Case] = []
    breakpoints: list[Breakpoint] = []
    texts: dict[str, str] = {}
    questions: list[str] = []
    answer: Answer | None = None
    pictures: list[str] = []
    table: TableLayout = msgspec.field(default_factory=TableLayout)


def _file(program: Path) -> Path:
    name = hashlib.sha256(str(program.resolve()).encode("utf-8", "surrogateescape")).hexdigest()[:24]
    return Path(platformdirs.user_state_dir("eelgrass")) / "programs" / f"{name}.json"


def kept(program: Path) -> SavedSession:
    """What was kept for a program; nothing where there is nothing to be read."""
    try:
        with _file(program).open("rb") as file:
            return msgspec.json.decode(file.read(_MOST_BYTES), type=SavedSession)
    except (OSError, ValueError):
        return SavedSession()


def keep(program: Path, its: SavedSession) -> None:
    """Keeps it, written in one go. Raises OSError."""
    target = _file(program)
    target.parent.mkdir(parents=True, exist_ok=True)
    with replaced(target) as file:
        file.write(msgspec.json.encode(its))
