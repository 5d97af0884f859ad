"""The fonts, and how the colours dress what Qt draws."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QFont, QPalette

from eelgrass.colours import Palette

UI_FAMILY = "DejaVu Sans"
CODE_FAMILY = "DejaVu Sans Mono"
#: Looked up once: Python works out a member of an enumeration anew each time, which shows when painting.
LEFT = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft
RIGHT = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
CENTRE = Qt.AlignmentFlag.AlignCenter

CODE_POINTS = 11
UI_POINTS = 9.5


class _Scale:
    """How much larger than usual everything is."""

    factor = 1.0


def set_scale(factor: float) -> None:
    """Makes all that is built from now on so much larger."""
    _Scale.factor = factor


def px(pixels: float) -> float:
    """A length, at the size that everything has."""
    return pixels * _Scale.factor


def ui_font(points: float = UI_POINTS, bold: bool = False) -> QFont:
    """The face for names, words and buttons."""
    font = QFont(UI_FAMILY)
    font.setPointSizeF(px(points))
    font.setBold(bold)
    return font


def code_font(points: float = CODE_POINTS) -> QFont:
    """The face for program text and values."""
    font = QFont(CODE_FAMILY)
    font.setPointSizeF(px(points))
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


def readable_on(fill: QColor, first: str, second: str) -> QColor:
    """That of two colours which stands out more on a third."""
    return max((QColor(first), QColor(second)), key=lambda colour: abs(colour.lightnessF() - fill.lightnessF()))


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


def style_sheet(colours: Palette, sign: Callable[[str, str], str]) -> str:
    """The style of buttons, tabs and strips. `sign` gives the file of a sign ("up" or "down") in a colour."""
    c = colours
    return f"""
    QToolTip {{ border: 1px solid {c.sand_edge}; padding: 4px; color: {c.ink}; background: {c.foam}; }}
    QToolButton, QPushButton {{
        border: 1px solid {c.sand_edge}; border-radius: 11px; background: {c.foam}; padding: 4px 10px; color: {c.ink};
    }}
    QToolButton[sign="true"] {{ padding: 4px 8px; }}
    QToolButton:hover, QPushButton:hover {{ background: {c.shallow}; }}
    QToolButton:focus, QPushButton:focus, QLineEdit:focus, QPlainTextEdit:focus {{ border: 2px solid {c.deep}; }}
    QToolButton:disabled, QPushButton:disabled {{ color: {c.ink_faded}; }}
    QToolButton::menu-indicator {{ image: none; }}
    QPushButton[strong="true"] {{ background: {c.deep}; color: {c.on_deep}; border-color: {c.deep}; }}
    QPushButton:checked {{ background: {c.shallow}; border: 2px solid {c.deep}; }}
    QLineEdit, QPlainTextEdit {{
        border: 1px solid {c.sand_edge}; border-radius: 6px; background: {c.foam}; padding: 5px 8px; color: {c.ink};
    }}
    QComboBox, QSpinBox {{
        border: 1px solid {c.sand_edge}; border-radius: 11px; background: {c.foam}; padding: 4px 10px; color: {c.ink};
    }}
    QComboBox:hover, QSpinBox:hover {{ background: {c.shallow}; }}
    QComboBox:focus, QSpinBox:focus {{ border: 2px solid {c.deep}; }}
    QComboBox::drop-down {{ border: none; width: 20px; }}
    QComboBox::down-arrow, QSpinBox::down-arrow {{ image: url({sign("down", c.ink_soft)}); width: 9px; height: 9px; }}
    QSpinBox::up-arrow {{ image: url({sign("up", c.ink_soft)}); width: 9px; height: 9px; }}
    QSpinBox::up-button, QSpinBox::down-button {{ border: none; width: 18px; background: transparent; }}
    QComboBox QAbstractItemView {{
        border: 1px solid {c.sand_edge}; background: {c.foam}; color: {c.ink}; selection-background-color: {c.shallow};
        selection-color: {c.ink};
    }}
    QLabel[chip="true"] {{
        border: 1px solid {c.shallow}; border-radius: 11px; background: {c.water}; padding: 4px 9px; color: {c.ink};
    }}
    QTabWidget::pane {{ border: none; border-top: 1px solid {c.sand_edge}; }}
    QTabBar::tab {{ padding: 6px 9px; color: {c.ink_soft}; border: 1px solid transparent; margin-bottom: -1px; }}
    QTabBar::tab:selected {{
        color: {c.ink}; background: {c.foam}; border-color: {c.sand_edge}; border-bottom-color: {c.foam};
        border-top-left-radius: 9px; border-top-right-radius: 9px;
    }}
    QTabBar QToolButton {{ border: none; border-radius: 0; padding: 0; background: {c.beach}; }}
    QSplitter::handle {{ background: {c.sand_edge}; }}
    QMenu {{ background: {c.foam}; border: 1px solid {c.sand_edge}; padding: 4px; }}
    QMenu::item {{ padding: 5px 22px; color: {c.ink}; }}
    QMenu::item:selected {{ background: {c.shallow}; }}
    QScrollBar:vertical {{ background: transparent; width: 11px; }}
    QScrollBar:horizontal {{ background: transparent; height: 11px; }}
    QScrollBar::handle {{ background: {c.hatch}; border-radius: 3px; min-height: 24px; min-width: 24px; margin: 3px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
    """
