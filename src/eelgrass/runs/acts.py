"""What is done at the simulated desk, as a person writes it: one act a line.

at 100 click add
at 250 click 40, -20 on sea with button 3
at 300 drag 60, 10 on sea
at 400 type "12" into amount
at 500 choose "reef" in place
at 600 key Left
at 900 answer yes
at 920 press 14
at 940 release 14
at 960 set 26 to 40%
at 1000 close

Words that would be taken for something else stand between quotation marks, as a text in JSON.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterable

from eelgrass.recorder.order import Act
from eelgrass.runs.order import CannotRunError

_NUMBER = r"-?\d+(?:\.\d+)?"
_QUOTED = r"\"(?:[^\"\\]|\\.)*\"|'[^']*'|`[^`]*`"
_LINE = re.compile(rf"at\s+({_NUMBER})\s*(?:ms)?\s*:?\s+(\w+)\s*(.*)", re.DOTALL)
_PLACE = rf"(?:at|to)?\s*\(?\s*(?P<x>{_NUMBER})\s*,\s*(?P<y>{_NUMBER})\s*\)?"
_MOUSE = rf"(?:{_PLACE}(?:\s+on\s+(?P<on>{_QUOTED}|.+?))?|(?:on\s+)?(?P<name>{_QUOTED}|.+?))??"
#: By what is done, how the rest of its line is written.
_FORMS = {
    **dict.fromkeys(("click", "move", "drag"), rf"{_MOUSE}(?:(?:^|\s+)with\s+button\s+(?P<button>[1-5]))?"),
    "type": rf"(?P<text>{_QUOTED}|.*?)(?:\s+into\s+(?P<on>{_QUOTED}|.+))?",
    "choose": rf"(?P<text>{_QUOTED}|.*?)(?:\s+in\s+(?P<on>{_QUOTED}|.+))?",
    "key": rf"(?P<text>{_QUOTED}|\S+)(?:\s+on\s+(?P<on>{_QUOTED}|.+))?",
    "answer": r"(?P<text>.*)",
    **dict.fromkeys(("press", "release"), r"(?:pin\s+)?(?P<on>.+)"),
    "set": rf"(?:pin\s+)?(?P<on>{_QUOTED}|.+?)\s+to\s+(?P<text>{_NUMBER}%?)",
    "close": r"(?P<on>.*)",
}
_READ = {what: re.compile(form, re.DOTALL) for what, form in _FORMS.items()}
#: Between what is done and where, for each that has a text.
_WHERE = {"type": "into", "choose": "in", "key": "on"}
_PLAIN = re.compile(r"[\w.!][\w.!]*(?: [\w.!]+)*")
_RESERVED = frozenset(("at", "to", "on", "in", "into", "with"))
_MOST_CHARACTERS = 500


def read_acts(lines: Iterable[str]) -> tuple[Act, ...]:
    """The acts that lines tell of; empty ones, and those that begin with `#`, tell of none. Raises CannotRunError."""
    return tuple(_act(line.strip()) for line in lines if line.strip() and not line.strip().startswith("#"))


def act_line(act: Act) -> str:
    """The line that tells of an act."""
    parts = [f"at {_number(act.at)} {act.do}"]
    if act.x is not None and act.y is not None:
        parts += [f"{_number(act.x)}, {_number(act.y)}", f"on {_written(act.on)}" if act.on else ""]
    elif act.do == "set":
        parts += [f"{_written(act.on)} to {act.text}"]
    elif act.do in _WHERE:
        is_one_word = act.do == "key" and " " not in act.text
        parts += [_written(act.text) if is_one_word else json.dumps(act.text, ensure_ascii=False)]
        parts += [f"{_WHERE[act.do]} {_written(act.on)}" if act.on else ""]
    else:
        parts += [_written(its) for its in (act.text, act.on) if its]
    parts += [f"with button {act.button}" if act.button != 1 else ""]
    return " ".join(filter(None, parts))


def _act(line: str) -> Act:
    found = _LINE.fullmatch(line) if len(line) <= _MOST_CHARACTERS else None
    form = _READ.get(found[2]) if found is not None else None
    rest = form.fullmatch(found[3].strip()) if found is not None and form is not None else None
    if found is None or rest is None:
        raise CannotRunError(
            f"What is done at the desk is not understood: “{line[:60]}”. A line is like “at 100 click add”, "
            '“at 400 type "12" into amount” or “at 600 key Left”.'
        )
    told = {name: its for name, its in rest.groupdict().items() if its is not None}
    x, y = (float(told[name]) if name in told else None for name in ("x", "y"))
    on, text = _bare(told.get("on", told.get("name", ""))), _bare(told.get("text", ""))
    return Act(float(found[1]), found[2], on, text, x, y, int(told.get("button", 1)))


def _number(value: float) -> str:
    return f"{value:.6f}".rstrip("0").rstrip(".")


def _written(words: str) -> str:
    """Words as they are, or between marks where they could be taken for something else."""
    is_plain = _PLAIN.fullmatch(words) is not None and _RESERVED.isdisjoint(words.split())
    return words if is_plain else json.dumps(words, ensure_ascii=False)


def _bare(words: str) -> str:
    """Words without the marks around them."""
    words = words.strip()
    if len(words) < 2 or words[0] != words[-1] or words[0] not in "\"'`":
        return words
    if words[0] == '"':
        try:
            return str(json.loads(words, strict=False))
        except ValueError:
            pass  # it has a backslash that is meant as one
    return words[1:-1]
