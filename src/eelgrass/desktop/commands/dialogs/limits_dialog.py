"""Asking when a run is stopped, and how much of large values is recorded."""

from __future__ import annotations

from dataclasses import fields

from PyQt6.QtWidgets import QSpinBox, QWidget

from eelgrass.desktop.look.dialog import FormDialog
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.services.settings import Settings, SettingValues
from eelgrass.desktop.services.translation import tr

#: Setting, what is asked, and the unit.
_ROWS = (
    ("max_steps", "Stop after so many steps", ""),
    ("max_seconds", "Stop after so much time, without waiting for input", " seconds"),
    ("max_processor_seconds", "Stop after so much work of the processor", " seconds"),
    ("max_memory_mib", "Stop when the program takes more memory than", " MiB"),
    ("max_output", "Stop when it has printed more than", " characters"),
    ("most_elements", "Record of one list, dictionary or set", " elements"),
    ("recording_mib", "Record large values briefly when all take more than", " MiB"),
)


class LimitsDialog(FormDialog):
    """`boxes`, by the name of the setting; 0 means no limit where there may be none."""

    def __init__(self, parent: QWidget, settings: Settings, look: Look) -> None:
        self.boxes = {name: _number(name, unit, settings) for name, _, unit in _ROWS}
        rows = tuple((words, self.boxes[name]) for name, words, _ in _ROWS)
        super().__init__(parent, "Limits of a run", rows, look)

    @property
    def made(self) -> dict[str, int]:
        """The settings as they were asked for."""
        return {name: box.value() for name, box in self.boxes.items()}

    def _trouble(self) -> str:
        return ""


def _number(name: str, unit: str, settings: Settings) -> QSpinBox:
    bounds = next(one.metadata for one in fields(SettingValues) if one.name == name)
    box = QSpinBox()
    box.setRange(int(bounds["least"]), int(bounds["most"]))
    box.setGroupSeparatorShown(True)
    box.setSuffix(unit)
    if not bounds["least"]:
        box.setSpecialValueText(tr("no limit"))
    box.setValue(getattr(settings.values, name))
    return box
