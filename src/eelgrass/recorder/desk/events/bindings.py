"""What events are called, and which binding of several hears one.

The most specific binding is the one that hears it: with a detail (a key, a button) before those without, and with more
modifiers before those with fewer.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

from eelgrass.recorder.desk.language.words import as_text

_TYPES = {
    **{"Key": "KeyPress", "KeyPress": "KeyPress", "KeyRelease": "KeyRelease", "Button": "ButtonPress"},
    **{"ButtonPress": "ButtonPress", "ButtonRelease": "ButtonRelease", "Motion": "Motion", "Enter": "Enter"},
    **{"Leave": "Leave", "FocusIn": "FocusIn", "FocusOut": "FocusOut", "Configure": "Configure", "Map": "Map"},
    **{
        "Unmap": "Unmap",
        "Destroy": "Destroy",
        "Expose": "Expose",
        "Visibility": "Visibility",
        "MouseWheel": "MouseWheel",
    },
    **{"Activate": "Activate", "Deactivate": "Deactivate"},
}
_MODIFIERS = {
    **{"Control": "Control", "Shift": "Shift", "Alt": "Alt", "Lock": "Lock", "Double": "Double", "Triple": "Triple"},
    **{"Meta": "Alt", "M1": "Alt", "Mod1": "Alt", "Any": "", "Command": "Control", "Option": "Alt"},
    **{f"B{number}": f"B{number}" for number in range(1, 6)},
    **{f"Button{number}": f"B{number}" for number in range(1, 6)},
}
#: Tk's numbers for the types of events.
TYPE_NUMBERS = {
    **{"KeyPress": 2, "KeyRelease": 3, "ButtonPress": 4, "ButtonRelease": 5, "Motion": 6, "Enter": 7, "Leave": 8},
    **{"FocusIn": 9, "FocusOut": 10, "Expose": 12, "Visibility": 15, "Destroy": 17, "Unmap": 18, "Map": 19},
    **{"Configure": 22, "Virtual": 35, "Activate": 36, "Deactivate": 37, "MouseWheel": 38},
}
#: Letters that keys are called otherwise by.
KEY_NAMES = {
    **{" ": "space", "\n": "Return", "\t": "Tab", "\b": "BackSpace", ".": "period", ",": "comma", "+": "plus"},
    **{"-": "minus", "*": "asterisk", "/": "slash", "=": "equal", "!": "exclam", "?": "question", ";": "semicolon"},
    **{":": "colon", "(": "parenleft", ")": "parenright", "_": "underscore", "%": "percent", "#": "numbersign"},
}
_KEY_LETTERS = {name: letter for letter, name in KEY_NAMES.items()} | {
    "Return": "\r",
    "Escape": "\x1b",
    "Delete": "\x7f",
}


@dataclass(frozen=True)
class Pattern:
    """What a binding listens to."""

    type: str
    detail: str = ""
    modifiers: frozenset[str] = frozenset()


@dataclass
class Event:
    """Something that happens at a widget. `x` and `y` are within it; `letter` is what a key writes."""

    type: str
    detail: str = ""
    modifiers: frozenset[str] = field(default_factory=frozenset)
    x: float = 0.0
    y: float = 0.0
    letter: str = ""
    delta: int = 0
    data: str = ""


def key_letter(name: str, modifiers: frozenset[str] = frozenset()) -> str:
    """What a key by its name writes."""
    letter = _KEY_LETTERS.get(name, name if len(name) == 1 else "")
    return chr(ord(letter.upper()) - 64) if "Control" in modifiers and letter.isascii() and letter.isalpha() else letter


@lru_cache(1024)
def pattern(sequence: str) -> Pattern:
    """A sequence as a binding has it, as `<Control-s>`."""
    if not sequence.startswith("<"):
        return Pattern("KeyPress", KEY_NAMES.get(sequence, sequence))
    if sequence.startswith("<<"):
        return Pattern("Virtual", sequence[2:-2])
    parts = [part for part in re.split(r"-(?=.)|\s", sequence[1:-1]) if part]
    modifiers, type_, detail = set(), "", ""
    for place, part in enumerate(parts):
        if part in _MODIFIERS and (place < len(parts) - 1 or type_ == ""):
            modifiers.add(_MODIFIERS[part])
        elif part in _TYPES and not type_:
            type_ = _TYPES[part]
        else:
            detail = part
    if not type_:
        type_ = "ButtonPress" if detail in ("1", "2", "3", "4", "5") else "KeyPress"
    return Pattern(type_, KEY_NAMES.get(detail, detail), frozenset(modifiers - {""}))


def hears(its: Pattern, event: Event) -> int:
    """How specific a binding is that hears an event, from 1; 0 for one that does not."""
    if its.type != event.type or (its.detail and its.detail != event.detail) or not its.modifiers <= event.modifiers:
        return 0
    return 1 + 10 * bool(its.detail) + len(its.modifiers)


def bound(space: dict[str, str], words: tuple[Any, ...]) -> Any:
    """What `bind` does with the bindings of a tag."""
    if not words:
        return tuple(space)
    sequence = as_text(words[0])
    if len(words) == 1:
        return space.get(sequence, "")
    script = as_text(words[1])
    if script.startswith("+"):
        space[sequence] = space.get(sequence, "") + "\n" + script[1:]
    elif script:
        space[sequence] = script
    else:
        space.pop(sequence, None)
    return ""
