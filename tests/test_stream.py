"""The stream between child and parent: both ends mean the same, and the parent believes nothing."""

from __future__ import annotations

import json
import struct

import pytest
from hypothesis import given
from hypothesis import strategies as st

from eelgrass.recorder import wire
from eelgrass.trace.build import Builder
from eelgrass.trace.stream import Chunk, K, StreamError
from eelgrass.trace.values import ValueTable

MODULE = {
    "file": "tide.py",
    "source": "level = 1\n",
    "first_point": wire.FIRST_POINT,
    "functions": [
        {"name": "<module>", "kind": "module", "parent": -1, "line": 1, "params": [], "local": ["level"]}
        | {"free": [], "global": []}
    ],
    "statements": [[1, 0, 1, 9, "assign", 0, -1, 0]],
    "points": [[wire.ENTER, -1, 0, None], [wire.STEP, 0, 0, None], [wire.STORE, 0, 0, "level"]],
}
ENTER, STEP, STORE = range(wire.FIRST_POINT, wire.FIRST_POINT + 3)


def chunk(events: list[int], values: list[object]) -> bytes:
    return wire.chunk(events, values, json.dumps)


def builder() -> Builder:
    made = Builder()
    made.module(json.dumps(MODULE).encode())
    return made


def test_both_ends_number_the_kinds_of_point_alike() -> None:
    assert (K.COUNT, K.FIRST_POINT) == (wire.KINDS, wire.FIRST_POINT)
    assert tuple(K.ARITY) == wire.ARITY
    shared = [name for name in vars(K) if name.isupper() and name in vars(wire) and name != "ARITY"]
    assert len(shared) > 15
    for name in shared:
        assert getattr(K, name) == getattr(wire, name)


simple = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(),
    st.floats(),
    st.text(),
    st.characters(categories=["Cs"]),
    st.tuples(st.integers(0, 1000)),
    st.lists(st.integers(0, 9), min_size=2, max_size=3).map(lambda parts: ["tuple", *parts]),
)


@given(st.lists(simple))
def test_every_value_arrives_as_it_was_sent(values: list[object]) -> None:
    parsed = Chunk.parse(chunk([], values))
    table = ValueTable()
    numbers = table.numbers(parsed.codes, parsed.wholes, parsed.floats, parsed.texts)
    for number, sent in zip(numbers.tolist(), values, strict=True):
        got = table.view().get(number)
        if isinstance(sent, tuple):
            assert got.number == sent[0]
        elif type(sent) is int and not wire.WHOLE_MIN <= sent <= wire.WHOLE_MAX:
            assert int(got[1], 16) == sent
        else:
            assert (type(got), repr(got)) == (type(sent), repr(sent))


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
    made.chunk(chunk([ENTER, STEP, STORE], [7]))
    trace = made.trace()
    assert trace.steps.kind.tolist() == [1, 0]
    assert [trace.line_of(step) for step in (0, 1)] == [1, 1]
    slot = int(trace.histories.of_frame(0)[0])
    assert trace.values.get(int(trace.slots.key[slot])) == "level"
    assert trace.values.get(trace.histories.value_at(slot, 2)) == 7
    assert trace.histories.value_at(slot, 1) == -1


@pytest.mark.parametrize(
    ("events", "values"),
    [
        ([STEP], []),  # outside of every frame
        ([ENTER, STORE], []),  # a value is missing
        ([ENTER, 9999], []),  # nobody announced it
        ([ENTER, wire.SET_ITEM], [(0,), 1, 2]),  # an object that was never described
        ([ENTER, wire.SET_ITEM], [5, 1, 2]),  # no object at all
        ([ENTER, wire.OBJECT], [["tuple", 1]]),  # no description
        ([ENTER, wire.OBJECT], [[0, "whale", "Whale", None, None, None]]),  # no such shape
        ([ENTER, wire.OUTPUT], [["sideways", "text"]]),
        ([ENTER, wire.INPUT], [3]),
    ],
)
def test_a_stream_that_cannot_be_is_refused(events: list[int], values: list[object]) -> None:
    with pytest.raises(StreamError, match=r"cannot be|never described|nobody announced"):
        builder().chunk(chunk(events, values))


def test_sizes_that_lie_are_refused() -> None:
    payload = bytearray(chunk([ENTER], []))
    struct.pack_into("<I", payload, 0, 1 << 30)
    with pytest.raises(StreamError, match="wrong size"):
        builder().chunk(bytes(payload))
    told = {**MODULE, "points": [[wire.STEP, 5, 0, None]]}
    with pytest.raises(StreamError, match="module"):
        Builder().module(json.dumps(told).encode())
