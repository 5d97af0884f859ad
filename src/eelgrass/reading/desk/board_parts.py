"""The parts of the simulated board: what each looks like, as far as it was told in the form that it should be."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from typing import Any

#: What keys of parts begin with.
MARK = "@"
_KINDS = ("pin", "analog", "pulse", "strip", "dots", "letters", "sense", "off")
_COLOUR = re.compile("#[0-9a-f]{6}")
_MOST_LIGHTS, _MOST_DOTS, _MOST_TEXTS = 2_000, 1_024, 400


@dataclass(frozen=True)
class BoardPart:
    """A pin (its `mode` "in" or "out"), an analog or pulsed one (`share` from 0 to 1), a strip of `lights` (#rrggbb), a
    display of letters (`lines`) or of dots, what a sensor feels, or that all is switched off. Dots have a `size`; for
    each row a number, a bit for each dot, the first one the highest; `texts` with x, y, letters, and whether these are
    lit."""

    kind: str
    mode: str = ""
    level: int = 0
    is_pressed: bool = False
    share: float = 0.0
    hertz: float = 0.0
    value: float = 0.0
    lights: tuple[str, ...] = ()
    size: tuple[int, int] = (0, 0)
    rows: tuple[int, ...] = ()
    texts: tuple[tuple[int, int, str, bool], ...] = ()
    lines: tuple[str, ...] = ()
    words: str = ""

    @property
    def is_on(self) -> bool:
        """Whether a pin is switched on, or its button pressed."""
        return self.is_pressed if self.mode == "in" else bool(self.level)

    @property
    def text(self) -> str:
        """How it is, in words."""
        if self.kind == "pin" and self.mode == "in":
            return f"{'pressed' if self.is_pressed else 'not pressed'}: {self.level}"
        if self.kind == "strip":
            lit = sum(its != "#000000" for its in self.lights)
            return f"{lit} of {len(self.lights)} lit"
        texts = {
            "pin": "on" if self.level else "off",
            "analog": f"{self.share:.0%}",
            "pulse": f"{self.hertz:g} Hz, {self.share:.0%}",
            "sense": f"{self.value:g}",
            "dots": " / ".join(its[2] for its in self.texts),
            "letters": " / ".join(line.rstrip() for line in self.lines),
            "off": f"switched off at {self.words}",
        }
        return texts[self.kind]


def part_of(told: Any) -> BoardPart | None:
    """A part; None for what is none: a recording may be anybody's."""
    if not isinstance(told, dict) or told.get("kind") not in _KINDS:
        return None
    try:
        return _part(told)
    except (TypeError, ValueError, OverflowError):
        return None


def _part(told: dict[str, Any]) -> BoardPart:
    shares = {name: float(told.get(name, 0.0)) for name in ("share", "hertz", "value")}
    if not all(math.isfinite(its) for its in shares.values()):
        raise ValueError("not a number")
    width, height = (min(max(int(its), 0), _MOST_DOTS) for its in told.get("size", (0, 0)))
    lights = tuple(str(its) for its in told.get("lights", ())[:_MOST_LIGHTS])
    return BoardPart(
        told["kind"],
        mode=str(told.get("mode", "")),
        level=int(bool(told.get("level"))),
        is_pressed=told.get("pressed") is True,
        share=min(max(shares["share"], 0.0), 1.0),
        hertz=shares["hertz"],
        value=shares["value"],
        lights=tuple(its if _COLOUR.fullmatch(its) else "#000000" for its in lights),
        size=(width, height),
        rows=tuple(int(str(its)[: _MOST_DOTS // 4], 16) for its in told.get("rows", ())[:height]),
        texts=tuple((int(x), int(y), str(text), bool(on)) for x, y, text, on in told.get("texts", ())[:_MOST_TEXTS]),
        lines=tuple(str(its) for its in told.get("lines", ())[:_MOST_TEXTS]),
        words=str(told.get("words", "")),
    )
