"""Lists of numbers as the stream has them, in bytes. Compiled, this is a loop over C numbers; see `packing.pxd`."""

from __future__ import annotations

import struct
from array import array

#: Whether the recorder's hottest modules were compiled.
IS_COMPILED = not __file__.endswith(".py")


def packed_events(events: list[int]) -> bytes | bytearray:
    """Unsigned numbers in 32 bits each. Raises OverflowError for others."""
    if not IS_COMPILED:
        return array("I", events).tobytes()
    room = bytearray(4 * len(events))
    if events:
        view = memoryview(room).cast("I")
        for place in range(len(events)):
            view[place] = events[place]
    return room


def packed_wholes(wholes: list[int]) -> bytes | bytearray:
    """Whole numbers in 64 bits each. Raises OverflowError for wider ones."""
    if not IS_COMPILED:
        try:
            return struct.pack(f"={len(wholes)}q", *wholes)
        except struct.error as error:
            raise OverflowError from error
    room = bytearray(8 * len(wholes))
    if wholes:
        view = memoryview(room).cast("q")
        for place in range(len(wholes)):
            view[place] = wholes[place]
    return room


def packed_floats(floats: list[float]) -> bytes | bytearray:
    """Floats in 64 bits each."""
    if not IS_COMPILED:
        return struct.pack(f"={len(floats)}d", *floats)
    room = bytearray(8 * len(floats))
    if floats:
        view = memoryview(room).cast("d")
        for place in range(len(floats)):
            view[place] = floats[place]
    return room


def packed_lengths(texts: list[str]) -> bytes | bytearray:
    """The lengths of texts in 32 bits each."""
    return packed_events([len(text) for text in texts])
