"""The stream from the recorded child to its parent: blocks of bytes, described in `docs/formats/stream.md`.

Plain constants and `struct` only, so that the child starts quickly. The parent believes nothing it reads here:
`Blocks` checks sizes and sums before a block is looked into.
"""

from __future__ import annotations

import struct
from array import array
from binascii import crc32
from collections.abc import Iterator
from typing import Any

MAGIC = b"EELGRASS-STREAM-1\n"
HEADER = struct.Struct("<BII")  # kind of block, bytes of payload, CRC-32 of the payload
CHUNK_HEADER = struct.Struct("<6I")  # events, values, whole numbers, floats, texts, bytes of the texts
MAX_BLOCK_BYTES = 1 << 28

# Kinds of block.
MODULE, CHUNK, WAITING, ENDED = 1, 2, 3, 4

# Kinds of point: what an event with that point's number says. The value counts follow in ARITY.
STEP, ENTER, BIND, LEAVE, UNWIND, STORE, DELETE, RETURNING, LEFT, CAUGHT = range(10)
OBJECT, CONTENTS, SET_ITEM, SET_FIELD, OUTPUT, INPUT = range(10, 16)
KINDS = 16
ARITY = (0, 0, 1, 1, 1, 1, 0, 1, 0, 1, 1, 1, 3, 3, 1, 1)

#: The numbers below this are points without a place in the text; a module's own points start here.
FIRST_POINT = 32

# Codes of a value in a chunk; see `encode_values`.
NONE, TRUTH, WHOLE, FLOAT, TEXT, REF, OTHER = range(7)
_CODE = {type(None): NONE, bool: TRUTH, int: WHOLE, float: FLOAT, str: TEXT, tuple: REF, list: OTHER}
WHOLE_MIN, WHOLE_MAX = -(1 << 63), (1 << 63) - 1


class StreamError(Exception):
    """The child's stream breaks its own rules; the message is a sentence for the person."""


def block(kind: int, payload: bytes) -> bytes:
    """One block, ready to be written."""
    return HEADER.pack(kind, len(payload), crc32(payload)) + payload


def _wide(value: Any) -> Any:
    """Whole numbers beyond 64 bits travel as hexadecimal text, since their decimals are limited in length."""
    if type(value) is int and not WHOLE_MIN <= value <= WHOLE_MAX:
        return ["int", hex(value)]
    return value


def chunk(events: list[int], values: list[Any], dumps: Any) -> bytes:
    """The payload of a CHUNK block.

    `values` holds exact `None`, `bool`, `int`, `float` and `str`; an object's number as a tuple of one; and
    anything else as the list that `objects.plain` made of it. Each type goes into a column of its own, so that
    both ends handle a whole column at once. `dumps` writes the lists as JSON texts.
    """
    codes = [_CODE[type(value)] for value in values]
    wholes = [value[0] if type(value) is tuple else value for value in values if type(value) in (bool, int, tuple)]
    try:
        packed = array("q", wholes)
    except OverflowError:
        return chunk(events, [_wide(value) for value in values], dumps)
    floats = array("d", [value for value in values if type(value) is float])
    texts = [value if type(value) is str else dumps(value) for value in values if type(value) in (str, list)]
    joined = "".join(texts).encode("utf-8", "surrogatepass")
    head = CHUNK_HEADER.pack(len(events), len(values), len(wholes), len(floats), len(texts), len(joined))
    lengths = array("I", map(len, texts))
    return b"".join((head, array("I", events), bytes(codes), packed, floats, lengths, joined))


class Blocks:
    """Takes the child's bytes as they come and gives back whole, checked blocks."""

    def __init__(self) -> None:
        self._pending = bytearray()
        self._greeted = False

    def feed(self, data: bytes) -> Iterator[tuple[int, bytes]]:
        """Each block that `data` completes, as (kind, payload).

        Raises StreamError when the bytes are not such a stream.
        """
        self._pending += data
        if not self._greeted:
            if len(self._pending) < len(MAGIC):
                return
            if not self._pending.startswith(MAGIC):
                raise StreamError("The recorded program's event stream does not begin as it should.")
            del self._pending[: len(MAGIC)]
            self._greeted = True
        while len(self._pending) >= HEADER.size:
            kind, size, check = HEADER.unpack_from(self._pending)
            if not MODULE <= kind <= ENDED or size > MAX_BLOCK_BYTES:
                raise StreamError("The recorded program's event stream holds a block that cannot be.")
            end = HEADER.size + size
            if len(self._pending) < end:
                return
            payload = bytes(self._pending[HEADER.size : end])
            if crc32(payload) != check:
                raise StreamError("The recorded program's event stream is damaged.")
            del self._pending[:end]
            yield kind, payload
