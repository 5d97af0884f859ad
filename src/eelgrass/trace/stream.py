"""Reading the payloads of the child's stream into columns, with every size checked."""

from __future__ import annotations

import struct
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from eelgrass.trace.columns import Bytes, Ints, Wides


class StreamError(Exception):
    """The child's stream breaks its own rules; the message is a sentence for the person."""


class K:
    """Kinds of point, as `docs/formats/stream.md` numbers them; `tests` compare them with the recorder's."""

    STEP, ENTER, BIND, LEAVE, UNWIND, STORE, DELETE, RETURNING, LEFT, CAUGHT = range(10)
    OBJECT, CONTENTS, SET_ITEM, SET_FIELD, OUTPUT, INPUT = range(10, 16)
    COUNT = 16
    FIRST_POINT = 32
    ARITY = np.array((0, 0, 1, 1, 1, 1, 0, 1, 0, 1, 1, 1, 3, 3, 1, 1), np.int32)
    #: Kinds whose value is a description, no value of the program.
    DESCRIBING = (OBJECT, CONTENTS, OUTPUT)
    #: Kinds that are looked at one by one.
    SINGLE = (ENTER, LEAVE, UNWIND, RETURNING, LEFT, CAUGHT, OBJECT, CONTENTS, SET_ITEM, SET_FIELD, OUTPUT, INPUT)


_HEADER = struct.Struct("<6I")


@dataclass(frozen=True)
class Chunk:
    """A chunk's columns: event numbers, value codes, and the values by type."""

    events: npt.NDArray[np.uint32]
    codes: Bytes
    wholes: Wides
    floats: npt.NDArray[np.float64]
    texts: list[str]

    @staticmethod
    def parse(payload: bytes) -> Chunk:
        """The chunk of a CHUNK block. Raises StreamError when the payload's parts do not fit together."""
        try:
            counts = _HEADER.unpack_from(payload)
        except struct.error:
            raise StreamError("The recorded program's event stream holds a chunk that is too short.") from None
        events, values, wholes, floats, texts, text_bytes = counts
        sizes = (4 * events, values, 8 * wholes, 8 * floats, 4 * texts, text_bytes)
        if _HEADER.size + sum(sizes) != len(payload):
            raise StreamError("The recorded program's event stream holds a chunk of the wrong size.")
        parts = []
        start = _HEADER.size
        for size in sizes:
            parts.append(payload[start : start + size])
            start += size
        codes = np.frombuffer(parts[1], np.uint8)
        lengths = np.frombuffer(parts[4], "<u4")
        chunk = Chunk(
            np.frombuffer(parts[0], "<u4"),
            codes,
            np.frombuffer(parts[2], "<i8"),
            np.frombuffer(parts[3], "<f8"),
            _split(parts[5], lengths),
        )
        expected = [int(np.isin(codes, group).sum()) for group in ((1, 2, 5), (3,), (4, 6))]
        if expected != [wholes, floats, texts] or (codes > 6).any():
            raise StreamError("The recorded program's event stream holds values of the wrong kinds.")
        return chunk


def _split(joined: bytes, lengths: npt.NDArray[np.uint32]) -> list[str]:
    try:
        text = joined.decode("utf-8", "surrogatepass")
    except UnicodeDecodeError:
        raise StreamError("The recorded program's event stream holds text that cannot be read.") from None
    ends = np.cumsum(lengths, dtype=np.int64)
    if (int(ends[-1]) if len(ends) else 0) != len(text):
        raise StreamError("The recorded program's event stream holds texts of the wrong length.")
    starts: Ints = ends - lengths
    return [text[start:end] for start, end in zip(starts.tolist(), ends.tolist(), strict=True)]
