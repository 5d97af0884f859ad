"""What is remembered between starts, under the XDG folders."""

from __future__ import annotations

import json
from pathlib import Path

import platformdirs

_FILE = "opened.json"


def _state_file() -> Path:
    return Path(platformdirs.user_state_dir("eelgrass")) / _FILE


def last_opened() -> Path | None:
    """What was open last, if it is still there."""
    try:
        told = json.loads(_state_file().read_text())
        path = Path(told["path"])
    except (OSError, ValueError, KeyError, TypeError):
        return None
    return path if path.exists() else None


def remember_opened(path: Path) -> None:
    """Remembers what is open. Not being able to is no reason to bother anybody."""
    target = _state_file()
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        target.write_text(json.dumps({"path": str(path.resolve())}))
    except OSError:
        return
