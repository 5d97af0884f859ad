"""What is remembered between starts, in one table, kept under the XDG state folder."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass, fields, replace
from pathlib import Path
from typing import Any

import platformdirs
from PyQt6.QtCore import QSettings

MOST_RECENT = 12
#: Sizes of the program text, in points.
SIZES = (9.0, 10.0, 11.0, 12.5, 14.0, 16.0, 18.0, 20.0, 24.0, 28.0, 32.0, 36.0, 40.0)


@dataclass(frozen=True)
class Settings:
    """Every setting, with what it is at first."""

    look: str = "light"
    points: float = 11.0
    present_points: float = 18.0
    working: bool = True
    speed: int = 2
    geometry: str = ""  # the window's and its parts' places, in hexadecimal
    parts: tuple[str, ...] = ()  # sizes of the window's parts, in pixels
    formats: tuple[str, ...] = ()  # "name=format": how the values of names are shown
    keys: tuple[str, ...] = ()  # "action=keys": those that are not as usual
    recent: tuple[str, ...] = ()


def _store() -> QSettings:
    return QSettings(str(Path(platformdirs.user_state_dir("eelgrass")) / "settings.ini"), QSettings.Format.IniFormat)


def load() -> Settings:
    """The settings as they were left; what is missing or makes no sense is as at first."""
    store, usual = _store(), Settings()
    values: dict[str, Any] = {}
    for field in fields(Settings):
        with suppress(TypeError, ValueError):
            values[field.name] = _read(store.value(field.name), getattr(usual, field.name))
    return Settings(**values)


def _read(told: object, usual: object) -> object:
    if told is None:
        return usual
    if isinstance(usual, tuple):
        return tuple(str(one) for one in (told if isinstance(told, list) else [told]) if one)
    if isinstance(usual, bool):
        return str(told) == "true"
    return type(usual)(str(told))  # type: ignore[call-arg]


def save(settings: Settings) -> None:
    """Keeps the settings. Not being able to is no reason to bother anybody."""
    store = _store()
    for field in fields(Settings):
        value = getattr(settings, field.name)
        store.setValue(field.name, list(value) if isinstance(value, tuple) else value)
    store.sync()


def recent_files() -> list[Path]:
    """What was open lately and is still there, the last one first."""
    return [path for path in map(Path, load().recent) if path.exists()]


def remember_opened(path: Path) -> None:
    """Remembers what is open."""
    settings, name = load(), str(path.resolve())
    others = [other for other in settings.recent if other != name]
    save(replace(settings, recent=(name, *others)[:MOST_RECENT]))
