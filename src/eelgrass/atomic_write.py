"""Writing a file in one go: whatever happens, the old file is there or the new one, and nothing else."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import BinaryIO

#: Where the system shows the files that this process has open.
_OPEN_FILES = "/proc/self/fd"


@contextmanager
def replaced(path: Path) -> Iterator[BinaryIO]:
    """A file to write into, which takes the place of `path` when all is written and on the disk. Keeps the old file's
    mode; of a link, the file that it leads to is replaced. Raises OSError.

    While it is written it has no name, so a process that is killed leaves nothing behind; where the file system knows
    no files without a name, it has one that begins with a dot.
    """
    path = Path(os.path.realpath(path))
    named = path.with_name(f".{path.name[:200]}.{os.getpid()}.new")
    handle, is_named = _opened(path.parent, named)
    try:
        with os.fdopen(handle, "wb") as file:
            os.fchmod(handle, path.stat().st_mode & 0o777 if path.exists() else 0o666 & ~_umask())
            yield file
            file.flush()
            os.fsync(handle)
            if not is_named:
                _give_name(handle, named)
                is_named = True
        os.replace(named, path)
    except BaseException:
        if is_named:
            named.unlink(missing_ok=True)
        raise


def replace_file(path: Path, data: bytes) -> None:
    """Puts a file with these bytes in the place of `path`, as `replaced`. Raises OSError."""
    with replaced(path) as file:
        file.write(data)


def _opened(folder: Path, named: Path) -> tuple[int, bool]:
    """An open file in a folder, and whether it has a name."""
    try:
        if not os.path.isdir(_OPEN_FILES):
            raise OSError(_OPEN_FILES)
        return os.open(folder, os.O_TMPFILE | os.O_WRONLY | os.O_CLOEXEC, 0o600), False
    except (OSError, AttributeError):  # a file system, or a system, without such files
        return os.open(named, os.O_CREAT | os.O_TRUNC | os.O_WRONLY | os.O_CLOEXEC, 0o600), True


def _give_name(handle: int, named: Path) -> None:
    """Gives an open file without a name the one that it is to have. Raises OSError."""
    with suppress(FileNotFoundError):
        named.unlink()
    folder = os.open(_OPEN_FILES, os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC)
    try:
        os.link(str(handle), named, src_dir_fd=folder, follow_symlinks=True)
    finally:
        os.close(folder)


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask
