"""Writing a file in one go: whatever happens, the old file is there or the new one."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import BinaryIO


@contextmanager
def replaced(path: Path) -> Iterator[BinaryIO]:
    """A file to write into, which takes the place of `path` when all is written and on the disk. Keeps the old file's
    mode. Raises OSError."""
    handle, temporary = tempfile.mkstemp(prefix=f".{path.name}.", dir=path.parent)
    try:
        with os.fdopen(handle, "wb") as file:
            os.fchmod(handle, path.stat().st_mode & 0o777 if path.exists() else 0o666 & ~_umask())
            yield file
            file.flush()
            os.fsync(handle)
        os.replace(temporary, path)
    except BaseException:
        Path(temporary).unlink(missing_ok=True)
        raise


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask
