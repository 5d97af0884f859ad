"""What commands may ask of the window that they belong to."""

from __future__ import annotations

from collections.abc import Callable
from typing import Protocol, TypeVar

from PyQt6.QtWidgets import QWidget

from eelgrass.desktop.commands.shortcuts import Shortcuts
from eelgrass.desktop.source.source_view import SourceView
from eelgrass.desktop.timeline.timeline_view import TimelineView

View = TypeVar("View", bound=QWidget)


class Panes(Protocol):
    """The parts of a window, and how they share its room; `take_keys` brings the keys back to the moves."""

    source: SourceView
    timeline: TimelineView
    shortcuts: Shortcuts
    is_presenting: bool
    is_tall: bool
    shows_passes: bool
    take_keys: Callable[[], None]

    @property
    def widget(self) -> QWidget:
        """What dialogs belong to."""

    def walk_parts(self, by: int) -> None:
        """Brings the keys so many parts further: the moves, this line, Depths, the tab in front, the tide line."""

    def view(self, kind: type[View]) -> View:
        """The view of a tab, by its class."""

    def show_view(self, kind: type[View]) -> View:
        """Brings the view of a tab to the front; gives it."""

    def present(self, on: bool) -> None:
        """Large type and only what a class needs to see; and back."""

    def set_tall(self, on: bool) -> None:
        """Gives the bench all the room on the right; Depths comes back after."""

    def set_passes(self, on: bool) -> None:
        """Shows passes side by side instead of Depths and bench, or these again."""
