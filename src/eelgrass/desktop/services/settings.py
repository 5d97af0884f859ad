"""What is remembered between starts, in one table, kept under the XDG state folder."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, fields, replace
from math import isfinite
from pathlib import Path
from typing import Any

import platformdirs
from PyQt6.QtCore import QObject, QSettings, pyqtSignal

from eelgrass.runs.order import MAX_ELEMENTS, MAX_OUTPUT_CHARACTERS, MAX_RECORDING_MIB, MAX_STEPS

MOST_RECENT = 12
#: Sizes of the program text, in points.
SIZES = (9.0, 10.0, 11.0, 12.5, 14.0, 16.0, 18.0, 20.0, 24.0, 28.0, 32.0, 36.0, 40.0)
_MOST_SPEED = 6
#: More of a list of settings, or of one text in it, is not believed.
_MOST_ROWS, _MOST_CHARACTERS = 500, 4_000


def _setting(usual: Any, least: float | None = None, most: float | None = None) -> Any:
    return field(default=usual, metadata={"least": least, "most": most})


@dataclass(frozen=True)
class SettingValues:
    """Every setting, with what it is at first and, for a number, from where to where it goes."""

    look: str = _setting("light")
    points: float = _setting(11.0, SIZES[0], SIZES[-1])
    present_points: float = _setting(18.0, SIZES[0], SIZES[-1])
    working: bool = _setting(True)
    speed: int = _setting(2, 0, _MOST_SPEED)
    max_steps: int = _setting(MAX_STEPS, 0, 1_000_000_000)  # of a run; 0: any number, as for the other limits
    max_seconds: int = _setting(0, 0, 1_000_000)  # without waiting for input
    max_processor_seconds: int = _setting(0, 0, 1_000_000)
    max_memory_mib: int = _setting(2048, 0, 1 << 20)  # of the program
    max_output: int = _setting(MAX_OUTPUT_CHARACTERS, 0, 1_000_000_000)  # characters
    most_elements: int = _setting(MAX_ELEMENTS, 100, 100_000_000)  # recorded of one container
    recording_mib: int = _setting(MAX_RECORDING_MIB, 16, 1 << 20)  # of memory, before contents are recorded briefly
    geometry: str = _setting("")  # the window's and its parts' places, in hexadecimal
    parts: tuple[str, ...] = _setting(())  # sizes of the window's parts, in pixels
    formats: tuple[str, ...] = _setting(())  # "name=format": how the values of names are shown
    keys: tuple[str, ...] = _setting(())  # "action=keys": those that are not as usual
    clues_off: tuple[str, ...] = _setting(())  # kinds of clues that are not shown
    introduced: bool = _setting(False)  # whether it was said how to move
    starts: int = _setting(0, 0, 100)  # so often in a row what was open last did not come on view
    recent: tuple[str, ...] = _setting(())  # what was open lately, the last one first


class Settings(QObject):
    """The one owner of the settings, recent files included. What is damaged in them is as at first; a file that cannot
    be read at all is put aside, and `trouble` says so. Signal: `changed`."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.trouble = ""
        self.values = self._load()

    def _file(self) -> Path:
        return Path(platformdirs.user_state_dir("eelgrass")) / "settings.ini"

    def _store(self) -> QSettings:
        return QSettings(str(self._file()), QSettings.Format.IniFormat)

    def _load(self) -> SettingValues:
        store = self._store()
        if store.status() != QSettings.Status.NoError:
            self._put_aside()
            return SettingValues()
        told = {one.name: store.value(one.name) for one in fields(SettingValues)}
        values, damaged = _believed(told)
        if damaged:
            names = ", ".join(damaged)
            self.trouble = f"Some settings made no sense and are as at first: {names}."
        return values

    def _put_aside(self) -> None:
        aside = self._file().with_suffix(".damaged")
        try:
            self._file().replace(aside)
            self.trouble = f"The settings could not be read and are as at first; what was there is in {aside}."
        except OSError as error:
            self.trouble = f"The settings cannot be read ({error.strerror}); they are as at first."

    def change(self, **changes: Any) -> None:
        """Changes settings, and keeps them. Not being able to is no reason to bother anybody."""
        self.values = replace(self.values, recent=self._load().recent)  # another window may have opened something
        self._put(changes)

    def _put(self, changes: Mapping[str, Any]) -> None:
        self.values = replace(self.values, **changes)
        store = self._store()
        for one in fields(SettingValues):
            value = getattr(self.values, one.name)
            store.setValue(one.name, list(value) if isinstance(value, tuple) else value)
        store.sync()
        self.changed.emit()

    @property
    def recent_files(self) -> list[Path]:
        """What was open lately and is still there, the last one first."""
        return [path for path in map(Path, self._load().recent) if _is_there(path)]

    def remember_opened(self, path: Path) -> None:
        """Remembers what is open."""
        name = str(path.resolve())
        others = [other for other in self._load().recent if other != name]
        self._put({"recent": (name, *others)[:MOST_RECENT]})


def _is_there(path: Path) -> bool:
    try:
        return path.exists()
    except (OSError, ValueError):
        return False


def _believed(told: Mapping[str, Any]) -> tuple[SettingValues, list[str]]:
    """(settings from what a file says, the names of those that make no sense)."""
    usual = SettingValues()
    values: dict[str, Any] = {}
    damaged = []
    for one in fields(SettingValues):
        if told[one.name] is None:
            continue
        try:
            values[one.name] = _read(told[one.name], getattr(usual, one.name), **one.metadata)
        except (TypeError, ValueError, OverflowError):
            damaged.append(one.name)
    return SettingValues(**values), damaged


def _read(told: object, usual: object, least: float | None, most: float | None) -> object:
    """One setting as the type that it has. Raises TypeError and ValueError."""
    if isinstance(usual, tuple):
        rows = told if isinstance(told, list) else [told]
        return tuple(_text(row) for row in rows[:_MOST_ROWS] if row)
    if isinstance(usual, bool):
        written = str(told).lower()  # what is not from the file, but from another window, is no text yet
        if written not in ("true", "false"):
            raise ValueError(told)
        return written == "true"
    if isinstance(usual, str):
        return _text(told)
    number = type(usual)(str(told))  # type: ignore[call-arg]
    assert isinstance(number, (int, float))
    if not isfinite(number):
        raise ValueError(told)
    return type(number)(min(max(number, least if least is not None else number), most if most is not None else number))


def _text(told: object) -> str:
    if not isinstance(told, str) or len(told) > _MOST_CHARACTERS:
        raise TypeError(told)
    return told
