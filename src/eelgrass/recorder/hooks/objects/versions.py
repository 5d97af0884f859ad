"""Whether a dictionary is as it was. Compiled, this is `versions.pyx`, which can tell; here nothing can."""

from __future__ import annotations

from typing import Any


def version(its: dict[Any, Any]) -> int:
    """A number that no other state of any dictionary has, or 0 where there is none."""
    return 0 * len(its)
