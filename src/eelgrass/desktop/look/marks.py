"""The signs of breakpoints, notes and claims, wherever they stand."""

from __future__ import annotations

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPainter

from eelgrass.desktop.look import icons
from eelgrass.desktop.look.palette import Palette
from eelgrass.reading.breakpoints.breakpoint import Breakpoint


def paint(painter: QPainter, its: Breakpoint, foot: QPointF, height: float, colours: Palette) -> None:
    """A pennant for a breakpoint, a shell for a note, a float for a claim; pale when it is switched off. They stand
    with their middle above `foot`."""
    if its.claims:
        sign, colour = icons.float_, colours.deep
    elif its.note:
        sign, colour = icons.shell, colours.kelp
    else:
        sign, colour, foot = icons.pennant, colours.coral, QPointF(foot.x() - height * 0.3, foot.y())
    sign(painter, foot, height, QColor(colour if its.on else colours.ink_faded))
