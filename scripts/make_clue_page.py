"""The page of the manual that tells all kinds of clues, from the kinds themselves."""

from __future__ import annotations

import re
from pathlib import Path

from eelgrass.reading.clues.catalogue import families
from eelgrass.reading.clues.clue import Kind

PAGE = Path(__file__).parents[1] / "src" / "eelgrass" / "manual" / "23-clues.md"
_BEHIND = "Words in *italics* stand for the names, lines and values of the program.\n"


def page() -> str:
    """The whole page: what stands there before the kinds, and these anew."""
    parts = [PAGE.read_text("utf-8").partition(_BEHIND)[0], _BEHIND]
    for family, kinds in families().items():
        parts.append(f"\n### {family}\n\n")
        parts.extend(map(_told, kinds))
    return "".join(parts)


def _told(kind: Kind) -> str:
    sentence = re.sub(r"(lines?) \{\w+\}", r"\1 *n*", kind.sentence)
    sentence = re.sub(r"\{(\w+)\}", r"*\1*", sentence)
    needs = kind.needs if kind.is_seen_alone else f"{kind.needs}, on the way to what is known to be wrong"
    return f"- {kind.title}. {sentence}\n  Evidence: {needs}; {kind.strength}.\n"


if __name__ == "__main__":
    PAGE.write_text(page(), encoding="utf-8")
