"""The colours and fonts, in one table."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QFont, QPalette


@dataclass(frozen=True)
class Palette:
    """One set of colours, by what they are for."""

    foam: str = "#FFFDF7"  # behind the text
    sand: str = "#F7F1E2"  # the module's layer, headings
    sand_edge: str = "#D9CDAE"
    beach: str = "#FBF7EC"  # behind strips and the bench
    water: str = "#E7EFEA"  # behind the layers
    shallow: str = "#D2E6DD"
    deep: str = "#2A655C"
    waterline: str = "#F0E0B4"
    ink: str = "#1B2A29"
    ink_soft: str = "#56655F"
    ink_faded: str = "#6E7569"
    on_deep: str = "#F4FBF7"
    on_deep_soft: str = "#C4DDD4"
    note: str = "#2A655C"
    leaf: str = "#CBEA93"
    leaf_dark: str = "#4F7A1C"
    kelp: str = "#7A4518"
    coral: str = "#B7402A"
    coral_pale: str = "#F9E3DA"
    number: str = "#0B6B78"
    text_literal: str = "#55700F"
    comment: str = "#7B7F72"
    hatch: str = "#DCCFAD"
    tag: str = "#F2D29B"


LIGHT = Palette()

UI_FAMILY = "DejaVu Sans"
CODE_FAMILY = "DejaVu Sans Mono"
#: Looked up once: Python works out a member of an enumeration anew each time, which shows when painting.
LEFT = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft
RIGHT = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
CENTRE = Qt.AlignmentFlag.AlignCenter

CODE_POINTS = 11
UI_POINTS = 9.5


def ui_font(points: float = UI_POINTS, bold: bool = False) -> QFont:
    """The face for names, words and buttons."""
    font = QFont(UI_FAMILY)
    font.setPointSizeF(points)
    font.setBold(bold)
    return font


def code_font(points: float = CODE_POINTS) -> QFont:
    """The face for program text and values."""
    font = QFont(CODE_FAMILY)
    font.setPointSizeF(points)
    font.setStyleHint(QFont.StyleHint.Monospace)
    return font


def blend(first: str, second: str, share: float) -> QColor:
    """A colour between two; `share` 0 gives the first, 1 the second."""
    one, two = QColor(first), QColor(second)
    parts = (
        round(a + (b - a) * share)
        for a, b in ((one.red(), two.red()), (one.green(), two.green()), (one.blue(), two.blue()))
    )
    return QColor(*parts)


def qt_palette(colours: Palette) -> QPalette:
    """The palette for Qt's own widgets."""
    palette = QPalette()
    roles = QPalette.ColorRole
    for role, colour in (
        (roles.Window, colours.beach),
        (roles.Base, colours.foam),
        (roles.WindowText, colours.ink),
        (roles.Text, colours.ink),
        (roles.Button, colours.sand),
        (roles.ButtonText, colours.ink),
        (roles.Highlight, colours.deep),
        (roles.HighlightedText, colours.on_deep),
        (roles.ToolTipBase, colours.foam),
        (roles.ToolTipText, colours.ink),
        (roles.PlaceholderText, colours.ink_soft),
    ):
        palette.setColor(role, QColor(colour))
    return palette


def style_sheet(colours: Palette) -> str:
    """The style of buttons, tabs and strips."""
    c = colours
    return f"""
    QToolTip {{ border: 1px solid {c.sand_edge}; padding: 4px; color: {c.ink}; background: {c.foam}; }}
    QToolButton, QPushButton {{
        border: 1px solid {c.sand_edge}; border-radius: 11px; background: {c.foam}; padding: 4px 12px; color: {c.ink};
    }}
    QToolButton:hover, QPushButton:hover {{ background: {c.shallow}; }}
    QToolButton:focus, QPushButton:focus, QLineEdit:focus {{ border: 2px solid {c.deep}; }}
    QToolButton:disabled, QPushButton:disabled {{ color: {c.ink_faded}; }}
    QToolButton::menu-indicator {{ image: none; }}
    QPushButton[strong="true"] {{ background: {c.deep}; color: {c.on_deep}; border-color: {c.deep}; }}
    QLineEdit {{
        border: 1px solid {c.sand_edge}; border-radius: 6px; background: {c.foam}; padding: 5px 8px; color: {c.ink};
    }}
    QLabel[chip="true"] {{
        border: 1px solid {c.shallow}; border-radius: 11px; background: {c.water}; padding: 4px 12px; color: {c.ink};
    }}
    QTabWidget::pane {{ border: none; border-top: 1px solid {c.sand_edge}; }}
    QTabBar::tab {{ padding: 6px 14px; color: {c.ink_soft}; border: 1px solid transparent; margin-bottom: -1px; }}
    QTabBar::tab:selected {{
        color: {c.ink}; background: {c.foam}; border-color: {c.sand_edge}; border-bottom-color: {c.foam};
        border-top-left-radius: 9px; border-top-right-radius: 9px;
    }}
    QSplitter::handle {{ background: {c.sand_edge}; }}
    QMenu {{ background: {c.foam}; border: 1px solid {c.sand_edge}; padding: 4px; }}
    QMenu::item {{ padding: 5px 22px; color: {c.ink}; }}
    QMenu::item:selected {{ background: {c.shallow}; }}
    QScrollBar:vertical {{ background: transparent; width: 11px; }}
    QScrollBar:horizontal {{ background: transparent; height: 11px; }}
    QScrollBar::handle {{ background: {c.hatch}; border-radius: 3px; min-height: 24px; min-width: 24px; margin: 3px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
    """
