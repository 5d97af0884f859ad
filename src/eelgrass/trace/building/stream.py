"""Reading the payloads of the child's stream into columns, with every size checked."""

from __future__ import annotations

import struct
from dataclasses import dataclass
from typing import NoReturn

import numpy as np
import numpy.typing as npt

from eelgrass.recorder import wire
from eelgrass.trace.columns import Ints, Wides


class StreamError(Exception):
    """The child's stream breaks its own rules; the message is a sentence for the person."""


def impossible(what: str) -> NoReturn:
    """Raises StreamError."""
    raise StreamError(f"The recorded program's event stream cannot be right: {what}.")


#: Kinds whose value is a text or a description, no value of the program.
DESCRIBING = (
    *(wire.OBJECT, wire.CONTENTS, wire.PATCH, wire.SPLICE, wire.ORDER, wire.TYPE),
    *(wire.OUTPUT, wire.ERRORS, wire.INPUT, wire.PICTURE, wire.DESK, wire.CAUSE),
)
#: How many whole numbers an event of a kind takes before its value.
WHOLES = np.array([wire.WHOLES.get(kind, 0) for kind in range(wire.KINDS)], np.int32)
_HAS_VALUE = np.isin(np.arange(wire.KINDS), sorted(wire.WITH_VALUE))


def _parts(payload: bytes) -> list[bytes]:
    """The columns of a chunk as bytes: events, whole numbers, floats, sizes of texts, texts. Raises StreamError."""
    try:
        counts = wire.CHUNK_HEADER.unpack_from(payload)
    except struct.error:
        raise StreamError("The recorded program's event stream holds a chunk that is too short.") from None
    events, wholes, floats, texts, text_bytes = counts
    sizes = (4 * events, 8 * wholes, 8 * floats, 4 * texts, text_bytes)
    if wire.CHUNK_HEADER.size + sum(sizes) != len(payload):
        raise StreamError("The recorded program's event stream holds a chunk of the wrong size.")
    parts, start = list[bytes](), wire.CHUNK_HEADER.size
    for size in sizes:
        parts.append(payload[start : start + size])
        start += size
    return parts


def joined(payloads: list[bytes]) -> bytes:
    """Chunks that came one after the other as one: however small, each takes as long to build. Raises StreamError."""
    if len(payloads) == 1:
        return payloads[0]
    columns = [b"".join(column) for column in zip(*map(_parts, payloads), strict=True)]
    widths = (4, 8, 8, 4, 1)
    counts = (len(column) // width for column, width in zip(columns, widths, strict=True))
    return wire.CHUNK_HEADER.pack(*counts) + b"".join(columns)


@dataclass(frozen=True)
class Chunk:
    """A chunk's columns: event numbers, and the values by type."""

    events: npt.NDArray[np.uint32]
    wholes: Wides
    floats: npt.NDArray[np.float64]
    texts: list[str]

    @staticmethod
    def parse(payload: bytes) -> Chunk:
        """The chunk of a CHUNK block. Raises StreamError when the payload's parts do not fit together."""
        parts = _parts(payload)
        return Chunk(
            np.frombuffer(parts[0], "<u4"),
            np.frombuffer(parts[1], "<i8"),
            np.frombuffer(parts[2], "<f8"),
            _split(parts[4], np.frombuffer(parts[3], "<u4")),
        )

    def until(self, end: int) -> Chunk:
        """The chunk without the events from `end` on."""
        return Chunk(self.events[:end], self.wholes, self.floats, self.texts)


@dataclass(frozen=True)
class Layout:
    """Where each event of a chunk finds what it carries: `form` (-1 without a value), and the places of its first whole
    number, its float and its text."""

    form: npt.NDArray[np.int8]
    whole: Ints
    floating: Ints
    text: Ints

    @staticmethod
    def of(chunk: Chunk, kinds: Ints) -> Layout:
        """The layout. Raises StreamError when events and values do not match."""
        form = np.where(_HAS_VALUE[kinds], (chunk.events % wire.FORMS).astype(np.int8), np.int8(-1))
        wholes = WHOLES[kinds] + ((form == wire.WHOLE) | (form == wire.REF))
        floats = form == wire.FLOAT
        texts = (form == wire.TEXT) | (form == wire.OTHER)
        ends = [np.cumsum(column, dtype=np.int32) for column in (wholes, floats, texts)]
        found = [int(column[-1]) if len(column) else 0 for column in ends]
        if found != [len(chunk.wholes), len(chunk.floats), len(chunk.texts)]:
            raise StreamError("The recorded program's event stream holds events and values that do not match.")
        return Layout(form, ends[0] - wholes, ends[1] - floats, ends[2] - texts)

    def until(self, end: int) -> Layout:
        """The layout without the events from `end` on."""
        return Layout(self.form[:end], self.whole[:end], self.floating[:end], self.text[:end])


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
