"""How large texts are: letters are all taken to be as wide, and as a font's size says."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from eelgrass.recorder.desk.language.words import as_text, split

#: Of the usual font, the width of a letter and the height of a line, in pixels.
LETTER, LINE = 7.2, 17.0
Size = tuple[float, float]


def font_scale(font: Any) -> float:
    """How large a font is, beside the usual one."""
    parts = split(font) if not isinstance(font, str) or " " in font else (font,)
    sizes = [abs(int(part)) for part in map(as_text, parts) if part.lstrip("-").isdecimal()]
    return sizes[0] / 10 if sizes else 1.0


def text_size(lines: Sequence[str], scale: float) -> Size:
    """How wide and high some lines are in a font so much larger than the usual one."""
    return max(map(len, lines)) * LETTER * scale, len(lines) * LINE * scale


def anchored(anchor: str, across: float, down: float) -> Size:
    """How far from the left and from the top something is put, where that much is free."""
    x = 0.0 if "w" in anchor else across if "e" in anchor and anchor != "center" else across / 2
    y = 0.0 if "n" in anchor and anchor != "center" else down if "s" in anchor else down / 2
    return x, y
