"""Texts that have been edited and not saved, kept so that no crash loses them (need X4)."""

from __future__ import annotations

import hashlib
from contextlib import suppress
from pathlib import Path

import platformdirs

from eelgrass.atomic_write import replaced


def _file(program: Path) -> Path:
    name = hashlib.sha256(str(program.resolve()).encode("utf-8", "surrogateescape")).hexdigest()[:24]
    return Path(platformdirs.user_state_dir("eelgrass")) / "drafts" / f"{name}.py"


def keep(program: Path, text: str) -> None:
    """Keeps the text of a program as it is being edited. Where that cannot be, nothing is lost but this safety."""
    with suppress(OSError):
        _file(program).parent.mkdir(parents=True, exist_ok=True)
        with replaced(_file(program)) as file:
            file.write(text.encode("utf-8", "surrogatepass"))


def kept(program: Path) -> str | None:
    """The text that was kept, if any."""
    try:
        return _file(program).read_text(encoding="utf-8")
    except (OSError, ValueError):
        return None


def forget(program: Path) -> None:
    """The text is saved: it need not be kept."""
    with suppress(OSError):
        _file(program).unlink(missing_ok=True)
