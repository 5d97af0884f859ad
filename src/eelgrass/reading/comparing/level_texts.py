"""Two texts side by side, lines level."""

from __future__ import annotations

from dataclasses import dataclass
from difflib import SequenceMatcher
from pathlib import PurePath

from eelgrass.reading.recording import Recording

#: What lines that stand level must have in common.
_ALIKE = 0.6
#: Where more pairs of lines would have to be looked at, none stand level.
_MOST_PAIRS = 4_000


@dataclass(frozen=True)
class LevelLine:
    """A line of each text, from 1, that stand level (0: none there), and whether they are the same."""

    here: int
    there: int
    is_same: bool


def level_lines(here: str, there: str) -> list[LevelLine]:
    """The lines of two texts; a line of one alone stands beside nothing."""
    ours, theirs = here.split("\n"), there.split("\n")
    found: list[LevelLine] = []
    matcher = SequenceMatcher(None, [line.strip() for line in ours], [line.strip() for line in theirs])
    for tag, first, end, low, high in matcher.get_opcodes():
        if tag == "equal":
            found += [LevelLine(first + place + 1, low + place + 1, True) for place in range(end - first)]
        else:
            found += _level(ours[first:end], theirs[low:high], first, low)
    return found


def _level(ours: list[str], theirs: list[str], first: int, low: int) -> list[LevelLine]:
    """Lines that are not the same: those that have much in common stand level."""
    found: list[LevelLine] = []
    place = 0
    end = len(theirs) if len(ours) * len(theirs) <= _MOST_PAIRS else 0
    for number, line in enumerate(ours):
        like = (it for it in range(place, end) if _share(line, theirs[it]) >= _ALIKE)
        match = next(like, None)
        if match is None:
            found.append(LevelLine(first + number + 1, 0, False))
            continue
        found += [LevelLine(0, low + it + 1, False) for it in range(place, match)]
        found.append(LevelLine(first + number + 1, low + match + 1, False))
        place = match + 1
    return [*found, *(LevelLine(0, low + it + 1, False) for it in range(place, len(theirs)))]


def _share(here: str, there: str) -> float:
    return SequenceMatcher(None, here.strip(), there.strip(), autojunk=False).ratio()


def module_beside(a: Recording, b: Recording, module: int) -> int:
    """The module of another recording that is this one: of the same name, or at the same place; -1 for none."""
    name = PurePath(a.trace.program.modules[module].file).name
    others = [PurePath(its.file).name for its in b.trace.program.modules]
    return others.index(name) if name in others else module if module < len(others) else -1
