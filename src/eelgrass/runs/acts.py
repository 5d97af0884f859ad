"""What is done at the simulated desk, as a person writes it: one act a line.

at 100 click add
at 250 click 40, -20 on sea
at 400 type "12" into amount
at 600 key Left
at 900 answer yes
at 1000 close
"""

from __future__ import annotations

import re
from collections.abc import Iterable

from eelgrass.recorder.order import Act
from eelgrass.runs.order import CannotRunError

_NUMBER = r"-?\d+(?:\.\d+)?"
_LINE = re.compile(rf"at\s+({_NUMBER})\s*(?:ms)?\s*:?\s+(\w+)\s*(.*)", re.DOTALL)
_PLACE = re.compile(rf"(?:at|to)?\s*\(?\s*({_NUMBER})\s*,\s*({_NUMBER})\s*\)?(?:\s+on\s+(.+))?")
_TYPED = re.compile(r"(?:\"([^\"]*)\"|'([^']*)'|(.*?))(?:\s+into\s+(.+))?", re.DOTALL)
_MOST_CHARACTERS = 500
_WORDS = ("click", "type", "key", "move", "drag", "answer", "close")


def read_acts(lines: Iterable[str]) -> tuple[Act, ...]:
    """The acts that lines tell of; empty ones, and those that begin with `#`, tell of none. Raises CannotRunError."""
    return tuple(_act(line.strip()) for line in lines if line.strip() and not line.strip().startswith("#"))


def act_line(act: Act) -> str:
    """The line that tells of an act."""
    when = f"at {act.at:g} {act.do}"
    if act.x is not None and act.y is not None:
        return f"{when} {act.x:g}, {act.y:g}" + (f" on {act.on}" if act.on else "")
    if act.do == "type":
        mark = "'" if '"' in act.text else '"'
        return f"{when} {mark}{act.text}{mark}" + (f" into {act.on}" if act.on else "")
    return f"{when} {act.text or act.on}".strip()


def _act(line: str) -> Act:
    found = _LINE.fullmatch(line) if len(line) <= _MOST_CHARACTERS else None
    if found is None or found[2] not in _WORDS:
        raise CannotRunError(
            f"What is done at the desk is not understood: “{line[:60]}”. A line is like “at 100 click add”, "
            '“at 400 type "12" into amount” or “at 600 key Left”.'
        )
    when, what, rest = float(found[1]), found[2], found[3].strip()
    place = _PLACE.fullmatch(rest)
    if place is not None and what in ("click", "move", "drag"):
        return Act(when, what, place[3] or "", "", float(place[1]), float(place[2]))
    if what == "type":
        typed = _TYPED.fullmatch(rest)
        assert typed is not None
        return Act(when, what, _bare(typed[4] or ""), next((its for its in typed.groups()[:3] if its is not None), ""))
    if what in ("key", "answer"):
        return Act(when, what, "", _bare(rest))
    return Act(when, what, _bare(rest.removeprefix("on ")))


def _bare(words: str) -> str:
    """Words without the marks around them."""
    return words[1:-1] if len(words) > 1 and words[0] == words[-1] and words[0] in "\"'`" else words
