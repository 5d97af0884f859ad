"""The stream from the recorded child to its parent: blocks of bytes, described in `docs/formats/stream.md`.

Plain constants and `struct` only, so that the child starts quickly. The parent believes nothing it reads here:
`Blocks` checks sizes and sums before a block is looked into.
"""

from __future__ import annotations

import struct
from binascii import crc32
from collections.abc import Iterator

from eelgrass.recorder.packing import packed_events, packed_floats, packed_lengths, packed_wholes

MAGIC = b"EELGRASS-STREAM-2\n"
HEADER = struct.Struct("<BII")  # kind of block, bytes of payload, CRC-32 of the payload
CHUNK_HEADER = struct.Struct("<5I")  # events, whole numbers, floats, texts, bytes of the texts
MAX_BLOCK_BYTES = 1 << 27

# Kinds of block.
MODULE, CHUNK, WAITING, ENDED, ANSWER, HEARD = 1, 2, 3, 4, 5, 6

# Kinds of point: what an event says. Those before PLACELESS belong to a place in the text.
STEP, ENTER, NEW, BIND, LEAVE, UNWIND, STORE, DELETE, RETURNING, LEFT, CAUGHT = range(11)
RESULT, SUSPEND, RESUME, SET_FIELD = range(11, 15)
ENCLOSING, PLACE, OBJECT, CONTENTS, KEY, SET_INDEX, SET_KEY, APPEND, SIZE, REMOVE = range(15, 25)
OUTPUT, ERRORS, INPUT, GLOBAL, THREAD = range(25, 30)
PATCH, SPLICE, INSERT, CUT, ORDER = range(30, 35)
TYPE, MADE, HELD, HELD_FIELD, LENGTH = range(35, 40)
PICTURE, NAME, TURN, DESK, CAUSE = range(40, 45)
KINDS = 45
#: What a TURN says of the thread that tells it: it begins to wait for what another does, or to sleep; it starts one.
WAITS, SLEEPS, STARTS = range(3)
#: What threads that take turns are told that their identities are, by their numbers: the system's own would be others
#: in each run.
FIRST_IDENTITY, NEXT_IDENTITY = 140_000_000_000_000, 8_396_800
#: Sets up to this size are told whole, so that the order in which the program would meet their elements is kept.
MOST_ORDERED = 64
#: The first of the kinds that belong to no place in the text.
PLACELESS = ENCLOSING
#: The numbers below this are points without a place in the text; a module's own points start here.
FIRST_POINT = 64

#: The kinds whose event carries a value, in a form of its own.
WITH_VALUE = frozenset(
    (
        *(BIND, LEAVE, UNWIND, STORE, RETURNING, CAUGHT, RESULT, SUSPEND, RESUME, SET_FIELD, OBJECT, CONTENTS),
        *(KEY, SET_INDEX, SET_KEY, APPEND, OUTPUT, ERRORS, INPUT, GLOBAL, PATCH, SPLICE, INSERT, ORDER),
        *(TYPE, HELD, HELD_FIELD, PICTURE, NAME, DESK, CAUSE),
    )
)
#: How many whole numbers an event of a kind takes before its value; none for the kinds that are not here.
WHOLES = {
    **{NEW: 1, RESUME: 1, SET_FIELD: 1, ENCLOSING: 1, SET_KEY: 1, APPEND: 1, THREAD: 1, REMOVE: 1, NAME: 1},
    **{SET_INDEX: 2, LENGTH: 2, SIZE: 2, INSERT: 2, TURN: 2, CUT: 3, PLACE: 4, MADE: 4},
}

#: The kinds that are steps of the recording.
STEPS = frozenset((STEP, ENTER, NEW, LEAVE, UNWIND, LEFT, CAUGHT, SUSPEND, RESUME))

# Forms of an event's value. An event is its point's number times FORMS, plus the form.
WHOLE, TEXT, FLOAT, NONE, FALSE, TRUE, REF, OTHER = range(8)
FORMS = 8
#: A whole number with more bits is told by its size.
MOST_BITS = 1 << 18
#: How a long text is told: `[LONG_TEXT, its number in order, value]`, and from then on `[AGAIN, its number]`.
LONG_TEXT, AGAIN = "long", "again"

WHOLE_MIN, WHOLE_MAX = -(1 << 63), (1 << 63) - 1


class StreamError(Exception):
    """The child's stream breaks its own rules; the message is a sentence for the person."""


def block(kind: int, payload: bytes) -> bytes:
    """One block, ready to be written."""
    return HEADER.pack(kind, len(payload), crc32(payload)) + payload


def chunk(events: list[int], wholes: list[int], floats: list[float], texts: list[str]) -> bytes:
    """The payload of a CHUNK block. Raises OverflowError for a whole number beyond 64 bits."""
    joined = "".join(texts).encode("utf-8", "surrogatepass")
    return b"".join(
        (
            CHUNK_HEADER.pack(len(events), len(wholes), len(floats), len(texts), len(joined)),
            packed_events(events),
            packed_wholes(wholes),
            packed_floats(floats),
            packed_lengths(texts),
            joined,
        )
    )


def needed(events: list[int], kinds: bytearray) -> tuple[int, int, int]:
    """How many (whole numbers, floats, texts) the events carry; `kinds` is the kind of each point."""
    wholes = floats = texts = 0
    for event in events:
        kind, form = kinds[event // FORMS], event % FORMS
        wholes += WHOLES.get(kind, 0)
        if kind in WITH_VALUE:
            wholes += form in (WHOLE, REF)
            floats += form == FLOAT
            texts += form in (TEXT, OTHER)
    return wholes, floats, texts


def wide(number: int) -> str:
    """A whole number beyond 64 bits, as JSON: by its digits, hexadecimal since Python limits the length of decimals, or
    by its size."""
    bits = number.bit_length()
    return f'["int", "{number:#x}"]' if bits <= MOST_BITS else f'["large", {bits}, {"true" if number < 0 else "false"}]'


def without_wide(
    events: list[int], wholes: list[int], texts: list[str], kinds: bytearray
) -> tuple[list[int], list[int], list[str]]:
    """(events, whole numbers, texts) with whole numbers beyond 64 bits told in the form OTHER.

    `kinds` is the kind of each point.
    """
    left_wholes, left_texts = iter(wholes), iter(texts)
    new_events: list[int] = []
    new_wholes: list[int] = []
    new_texts: list[str] = []
    for event in events:
        kind, form = kinds[event // FORMS], event % FORMS
        new_wholes += [next(left_wholes) for _ in range(WHOLES.get(kind, 0))]
        if kind in WITH_VALUE and form in (WHOLE, REF):
            number = next(left_wholes)
            if WHOLE_MIN <= number <= WHOLE_MAX:
                new_wholes.append(number)
            else:
                event += OTHER - form
                new_texts.append(wide(number))
        elif kind in WITH_VALUE and form in (TEXT, OTHER):
            new_texts.append(next(left_texts))
        new_events.append(event)
    return new_events, new_wholes, new_texts


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
            if not MODULE <= kind <= HEARD or size > MAX_BLOCK_BYTES:
                raise StreamError("The recorded program's event stream holds a block that cannot be.")
            end = HEADER.size + size
            if len(self._pending) < end:
                return
            payload = bytes(self._pending[HEADER.size : end])
            if crc32(payload) != check:
                raise StreamError("The recorded program's event stream is damaged.")
            del self._pending[:end]
            yield kind, payload
