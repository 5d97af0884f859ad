"""How much memory this process takes."""

from __future__ import annotations

import os
from contextlib import suppress
from pathlib import Path


def resident_mib() -> float:
    """What of this process is in memory, in MiB; 0 where that cannot be told."""
    with suppress(OSError, ValueError, IndexError):
        return int(Path("/proc/self/statm").read_bytes().split()[1]) * os.sysconf("SC_PAGE_SIZE") / (1 << 20)
    return 0.0
