"""What all lists of the bench have in common."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QListWidget

from eelgrass.desktop.look.palette import Palette, ui_font


def dress(its: QListWidget, name: str, colours: Palette) -> None:
    """Gives a list its look, and its name for a screen reader."""
    its.setFrameShape(its.Shape.NoFrame)
    its.setWordWrap(True)
    its.setFont(ui_font())
    its.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    its.setAccessibleName(name)
    its.setStyleSheet(f"background: {colours.foam}; color: {colours.ink}; padding: 4px 8px;")
