"""What is said to people goes through here, so that it can be said in another language (Qt's own translation files)."""

from __future__ import annotations

from PyQt6.QtCore import QCoreApplication


def tr(text: str) -> str:
    """A text in the person's language, as far as a translation is installed; places like {0} stay."""
    return QCoreApplication.translate("eelgrass", text)
