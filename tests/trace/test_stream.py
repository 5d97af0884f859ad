"""The stream between child and parent: both ends mean the same, and the parent believes nothing."""

from __future__ import annotations

import json
import struct

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from support.one_line import ENTER, MODULE, STEP, STORE, builder

from eelgrass.reading.state.value_text import text as value_text
from eelgrass.recorder import wire
from eelgrass.recorder.hooks.frames import Frames
from eelgrass.recorder.hooks.log import Log, Taken
from eelgrass.trace.building.builder import _STEP_KIND, Builder
from eelgrass.trace.building.stream import StreamError, joined

SET_INDEX, OBJECT, OUTPUT = (kind * wire.FORMS for kind in (wire.SET_INDEX, wire.OBJECT, wire.OUTPUT))

LIST = OBJECT + wire.OTHER
THREE = '[0, "list", "list", [1, 2, 3], null, null]'
SIZE, CUT, INSERT, LENGTH = (kind * wire.FORMS for kind in (wire.SIZE, wire.CUT, wire.INSERT, wire.LENGTH))
SPLICE, ORDER = (kind * wire.FORMS + wire.OTHER for kind in (wire.SPLICE, wire.ORDER))


def chunk(
    events: list[int], wholes: tuple[int, ...] = (), floats: tuple[float, ...] = (), texts: tuple[str, ...] = ()
) -> bytes:
    return wire.chunk(events, list(wholes), list(floats), list(texts))


simple = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(),
    st.floats(),
    st.text(),
    st.characters(categories=["Cs"]),
    st.tuples(st.integers(), st.text(max_size=3)),
)


@given(st.lists(simple))
def test_every_value_arrives_as_it_was_sent(values: list[object]) -> None:
    made = builder()

    def hand_over(log: Taken) -> None:
        kinds = bytearray(range(wire.FIRST_POINT)) + bytearray((wire.ENTER, wire.STEP, wire.STORE))
        events, wholes, texts = wire.without_wide(log.events, log.wholes, log.texts, kinds)
        made.chunk(wire.chunk(events, wholes, log.floats, texts))

    log = Log(hand_over)
    log.make_codes(wire.FIRST_POINT + 3)
    log.events += (ENTER, STEP)
    for value in values:
        log.events.append(STEP)
        log.tell(STORE, value)
    log.flush()
    trace = made.trace()
    steps, held = trace.histories.columns_of(0) if values else (np.zeros(0, np.int64), np.zeros(0, np.int64))
    assert steps.tolist() == list(range(2, 2 + len(values)))
    for step, value, sent in zip(steps.tolist(), held.tolist(), values, strict=True):
        assert value_text(trace, value, step) == repr(sent)


@given(st.lists(st.binary(max_size=40), max_size=5), st.data())
def test_blocks_are_found_however_the_bytes_arrive(payloads: list[bytes], data: st.DataObject) -> None:
    sent = wire.MAGIC + b"".join(wire.block(wire.CHUNK, payload) for payload in payloads)
    blocks, got, at = wire.Blocks(), [], 0
    while at < len(sent):
        size = data.draw(st.integers(1, len(sent) - at))
        got += list(blocks.feed(sent[at : at + size]))
        at += size
    assert got == [(wire.CHUNK, payload) for payload in payloads]


@given(st.integers(0, 200), st.integers(1, 255))
def test_a_damaged_block_is_refused(place: int, flip: int) -> None:
    sent = bytearray(wire.MAGIC + wire.block(wire.CHUNK, bytes(range(180))))
    sent[place % len(sent)] ^= flip
    blocks = wire.Blocks()
    try:
        taken = list(blocks.feed(bytes(sent)))
    except wire.StreamError:
        return
    assert taken == [] or taken[0][0] != wire.CHUNK, "only a length that grew or another kind can go unnoticed so far"


def test_a_program_of_one_line_becomes_columns() -> None:
    made = builder()
    made.chunk(chunk([ENTER, STEP, STORE], (7,)))
    trace = made.trace()
    assert trace.steps.kind.tolist() == [1, 0]
    assert [trace.line_of(step) for step in (0, 1)] == [1, 1]
    slot = int(trace.histories.of_frame(0)[0])
    assert trace.values.get(int(trace.slots.key[slot])) == "level"
    assert trace.values.get(trace.histories.value_at(slot, 2)) == 7
    assert trace.histories.value_at(slot, 1) == -1


@pytest.mark.parametrize(
    ("events", "wholes", "texts"),
    [
        ([STEP], (), ()),  # outside of every frame
        ([ENTER, STORE], (), ()),  # a value is missing
        ([ENTER, STEP], (1,), ()),  # a value is too many
        ([ENTER, 9999], (), ()),  # nobody announced it
        ([ENTER, SET_INDEX], (0, 1, 2), ()),  # an object that was never described
        ([ENTER, OBJECT], (3,), ()),  # no description
        ([ENTER, OBJECT + wire.OTHER], (), ('["tuple", 1]',)),
        ([ENTER, OBJECT + wire.OTHER], (), ('[0, "whale", "Whale", null, null, null]',)),  # no such shape
        ([ENTER, OBJECT + wire.OTHER], (), ("[" * 100_000,)),
        ([ENTER, OUTPUT], (3,), ()),
        ([ENTER, LIST, CUT], (0, 1, 3), (THREE,)),  # splices that lead outside of the list
        ([ENTER, LIST, CUT], (0, -1, 1), (THREE,)),
        ([ENTER, LIST, CUT], (0, 0, 1 << 31), (THREE,)),
        ([ENTER, LIST, INSERT], (0, 4, 7), (THREE,)),
        ([ENTER, LIST, SPLICE], (), (THREE, "[0, 2147483648, 0, [1]]")),
        ([ENTER, LIST, SPLICE], (), (THREE, '[0, 0, "all", [1]]')),
        ([ENTER, LIST, SPLICE], (), (THREE, "[7, 0, 0, [1]]")),
        ([ENTER, LIST, CUT, SIZE], (0, 0, 1, 0, 5), (THREE,)),
        ([ENTER, LIST, ORDER], (), (THREE, '[0, "a"]')),
        ([ENTER, LIST, LENGTH], (7, 20_000), (THREE,)),
        ([ENTER, LIST, LENGTH], (0, -1), (THREE,)),
        ([ENTER, LIST, LENGTH], (0, 1 << 31), (THREE,)),
        ([ENTER, LIST, LENGTH, CUT], (0, 9, 0, 8, 2), (THREE,)),
        ([ENTER, wire.RESUME * wire.FORMS + wire.NONE], (7,), ()),  # a kind that belongs to a place in the text
    ],
)
def test_a_stream_that_cannot_be_is_refused(events: list[int], wholes: tuple[int, ...], texts: tuple[str, ...]) -> None:
    with pytest.raises(StreamError, match=r"cannot|never described|nobody announced|do not match"):
        builder().chunk(chunk(events, wholes, texts=texts))


def test_both_ends_know_the_same_kinds_for_steps() -> None:
    assert {kind for kind in range(wire.KINDS) if _STEP_KIND[kind] >= 0} == wire.STEPS


@given(st.lists(st.lists(simple, max_size=4), min_size=1, max_size=5))
def test_chunks_in_a_row_are_one_chunk(rows: list[list[object]]) -> None:
    payloads = list[bytes]()
    log = Log(lambda taken: payloads.append(wire.chunk(*_plain(taken))))
    log.make_codes(wire.FIRST_POINT + 3)
    log.events += (ENTER, STEP)
    for values in rows:
        for value in values:
            log.events.append(STEP)
            log.tell(STORE, value)
        log.flush()
    apart, at_once = builder(), builder()
    for payload in payloads:
        apart.chunk(payload)
    at_once.chunk(joined(payloads))
    one, other = apart.trace(), at_once.trace()
    assert one.slots.write_slot.tolist() == other.slots.write_slot.tolist()
    assert one.slots.write_step.tolist() == other.slots.write_step.tolist()
    assert one.steps.kind.tolist() == other.steps.kind.tolist()
    written = [[repr(its.values.get(value)) for value in its.slots.write_value.tolist()] for its in (one, other)]
    assert written[0] == written[1]
    with pytest.raises(StreamError):
        joined([payloads[0], payloads[0][:-1]])


def _plain(taken: Taken) -> tuple[list[int], list[int], list[float], list[str]]:
    kinds = bytearray(range(wire.FIRST_POINT)) + bytearray((wire.ENTER, wire.STEP, wire.STORE))
    events, wholes, texts = wire.without_wide(taken.events, taken.wholes, taken.texts, kinds)
    return events, wholes, taken.floats, texts


def test_an_interruption_waits_until_what_is_written_is_whole() -> None:
    seen: list[str] = []

    def hand_over(taken: Taken) -> None:
        log.interrupt(lambda: seen.append(f"interrupted with {len(log.events)} events"))
        log.tell(STORE, 6)  # another thread goes on meanwhile
        seen.append(f"handed over {taken.wholes}")

    log = Log(hand_over)
    log.make_codes(wire.FIRST_POINT + 3)
    log.tell(STORE, 5)
    log.flush()
    assert seen == ["handed over [5]", "interrupted with 1 events"]


def test_long_texts_are_handed_over_between_objects_not_inside_one() -> None:
    handed: list[Taken] = []
    log = Log(handed.append)
    log.make_codes(wire.FIRST_POINT + 3)
    frames = Frames(log, 0, 8192, log.flush)
    log.tell(STORE, ["x" * 999_000, "y" * 999_000, "z" * 999_000])
    assert not handed
    frames.ready()
    assert [len(taken.texts) for taken in handed] == [4]  # a type and three elements
    frames.ready()
    assert len(handed) == 1


def test_sizes_that_lie_are_refused() -> None:
    payload = bytearray(chunk([ENTER]))
    struct.pack_into("<I", payload, 0, 1 << 30)
    with pytest.raises(StreamError, match="wrong size"):
        builder().chunk(bytes(payload))
    told = {**MODULE, "points": [[wire.STEP, 5, 0, None]]}
    with pytest.raises(StreamError, match="module"):
        Builder().module(json.dumps(told).encode())
