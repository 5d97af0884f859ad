"""What all groups of commands have at hand."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from eelgrass.desktop.commands.panes import Panes
from eelgrass.desktop.models import Models
from eelgrass.errors import FileError


class CommandGroup:
    """A group of commands: methods that are named in `action_table.ACTIONS`. Their failures are typed errors, and told
    where the actions are made."""

    def __init__(self, models: Models, panes: Panes) -> None:
        self._models = models
        self._panes = panes
        self._session = models.parts.session
        self._workspace = models.workspace
        self._launch = models.launch

    def _say(self, sentence: str, is_trouble: bool = False) -> None:
        self._models.messages.say(sentence, is_trouble)

    def _ask_target(self, title: str, suggestion: str, kinds: str) -> Path | None:
        """Asks where to write something."""
        name, _ = QFileDialog.getSaveFileName(self._panes.widget, title, suggestion, kinds)
        return Path(name) if name else None


def written(path: Path, write: Callable[[], object], sentence: str) -> None:
    """Writes something the person asked for. Raises FileError with `sentence`, whose {0} is the file's name and {1} the
    reason."""
    try:
        write()
    except OSError as error:
        raise FileError(sentence.format(path.name, "{0}"), error) from error
