"""Where a program runs: in a copy of a folder, or in a folder itself; with a place for its temporary files."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Any

from eelgrass.recorder.order import Confinement
from eelgrass.runs.child.scratch import Scratch, mebibytes_in, removed_whole
from eelgrass.runs.confinement import plan_of
from eelgrass.runs.order import Order

#: More than this a run may not write to files in all, with what its folder holds.
_MOST_MIB = 2_048


class Room:
    """`folder` is the one to start in; None: where this process is. It is Eelgrass's to take away if it is a copy."""

    def __init__(self, folder: Path | None = None, scratch: Scratch | None = None) -> None:
        self.scratch = scratch
        self.folder = scratch.folder if scratch is not None else folder
        self._temporary: Path | None = None

    @property
    def linked(self) -> str:
        """The folder, if anything in it is only linked, and not to be written through; else ''."""
        return self.scratch.linked if self.scratch is not None else ""

    def plan_of(self, order: Order) -> Confinement | None:
        """What a run here is confined to; None for nothing. Raises OSError and CannotRunError."""
        if order.leave is None:
            return None
        return plan_of(order, (self.folder or Path.cwd()).resolve(), self.scratch, self._make_temporary)

    def _make_temporary(self) -> str:
        self._temporary = Path(tempfile.mkdtemp(prefix="eelgrass-run-temporary-"))
        return str(self._temporary)

    def written(self) -> list[dict[str, Any]]:
        """As `Scratch.written`; nothing where it is no copy."""
        return self.scratch.written() if self.scratch is not None else []

    def trouble(self) -> str:
        """What is wrong with what the program has written so far, in a sentence; '' where nothing is."""
        folders = [self._temporary, self.scratch.folder if self.scratch is not None else None]
        if sum(mebibytes_in(its) for its in folders if its is not None) <= _MOST_MIB:
            return ""
        return f"The run was stopped because it wrote more than {_MOST_MIB:,} MiB to files."

    def remove(self) -> None:
        """Takes away what is Eelgrass's."""
        if self._temporary is not None:
            removed_whole(self._temporary)
        if self.scratch is not None:
            self.scratch.remove()
