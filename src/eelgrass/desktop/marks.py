"""The signs of breakpoints, notes and claims, wherever they stand."""

from __future__ import annotations

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPainter

from eelgrass.desktop import signs
from eelgrass.desktop.palette import Palette
from eelgrass.reading.breakpoints import Breakpoint


def paint(painter: QPainter, its: Breakpoint, foot: QPointF, height: float, colours: Palette) -> None:
    """A pennant for a breakpoint, a shell for a note, a float for a claim; pale when it is switched off."""
    if its.claims:
        sign, colour = signs.float_, colours.deep
    elif its.note:
        sign, colour = signs.shell, colours.kelp
    else:
        sign, colour = signs.pennant, colours.coral
    sign(painter, foot, height, QColor(colour if its.on else colours.ink_faded))
