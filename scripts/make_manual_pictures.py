"""The pictures of the manual, from those of a tour: `eelgrass tour DIR`, then this with DIR."""

from __future__ import annotations

import re
import sys
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage

_MANUAL = Path(__file__).parents[1] / "src" / "eelgrass" / "manual"
_WIDTH = 760


def main(tour: Path) -> None:
    """Scales each picture that a page shows to the width of the manual."""
    for page in _MANUAL.glob("*.md"):
        for name in re.findall(r"\(pictures/([\w-]+\.png)\)", page.read_text("utf-8")):
            picture = QImage(str(tour / name)).scaledToWidth(_WIDTH, Qt.TransformationMode.SmoothTransformation)
            picture.save(str(_MANUAL / "pictures" / name), quality=0)  # as few bytes as can be


if __name__ == "__main__":
    main(Path(sys.argv[1]))
