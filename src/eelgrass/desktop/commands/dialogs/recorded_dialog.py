"""Asking how much of large values is recorded."""

from __future__ import annotations

from dataclasses import fields

from PyQt6.QtWidgets import QSpinBox, QWidget

from eelgrass.desktop.look.dialog import FormDialog
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.services.settings import Settings, SettingValues


class RecordedDialog(FormDialog):
    """`elements` of one list, dictionary or set; `memory` in MiB, after which much less of each is recorded."""

    def __init__(self, parent: QWidget, settings: Settings, look: Look) -> None:
        self.elements, self.memory = _number("most_elements", settings), _number("recording_mib", settings)
        self.memory.setSuffix(" MiB")
        rows = (("Elements of one list, dictionary or set", self.elements), ("Memory for all of them", self.memory))
        super().__init__(parent, "How much is recorded", rows, look)

    def _trouble(self) -> str:
        return ""


def _number(name: str, settings: Settings) -> QSpinBox:
    bounds = next(one.metadata for one in fields(SettingValues) if one.name == name)
    box = QSpinBox()
    box.setRange(int(bounds["least"]), int(bounds["most"]))
    box.setGroupSeparatorShown(True)
    box.setValue(getattr(settings.values, name))
    return box
