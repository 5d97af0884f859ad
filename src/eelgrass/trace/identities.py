"""What a program that makes its threads take turns calls them by."""

from __future__ import annotations

from eelgrass.recorder import wire


def thread_of_identity(identity: object) -> int:
    """The number of the thread that has an identity; -1 for one of the system's own."""
    if type(identity) is not int:
        return -1
    number, rest = divmod(identity - wire.FIRST_IDENTITY, wire.NEXT_IDENTITY)
    return number if not rest and 0 <= number < 1 << 20 else -1
