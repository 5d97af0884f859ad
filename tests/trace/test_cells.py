"""Lists that change anywhere: what the recording says of them at each step is what a list of Python's own held."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from conftest import Record
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from support.one_line import ENTER, STEP, STORE, builder
from support.second_reader import SecondReader

from eelgrass.reading.breakpoints.locations import spots_of_path
from eelgrass.reading.state import insides
from eelgrass.recorder import wire
from eelgrass.recorder.hooks.log import Log, Taken
from eelgrass.trace import cells
from eelgrass.trace.files import recording_file
from eelgrass.trace.histories import Part
from eelgrass.trace.model import Trace
from eelgrass.trace.values import NOT_SET

small = st.integers(0, 5)


class Told:
    """A list whose changes are told, and what it held before each step."""

    def __init__(self, beds: list[int]) -> None:
        self.builder = builder()
        self.log = Log(self._hand_over)
        self.log.make_codes(wire.FIRST_POINT + 3)
        self.beds = beds
        self.log.events += (ENTER, STEP)
        self.log.tell(STORE, beds)
        self.before: list[list[int]] = [[], []]

    def _hand_over(self, log: Taken) -> None:
        self.builder.chunk(wire.chunk(log.events, log.wholes, log.floats, log.texts))

    def step(self) -> None:
        self.log.events.append(STEP)
        self.before.append(list(self.beds))

    def change(self, data: st.DataObject) -> None:
        """One change in one of the ways in which the child may tell it."""
        beds, size = self.beds, len(self.beds)
        place = data.draw(st.integers(0, size))
        count = data.draw(st.integers(0, size - place))
        way = data.draw(st.sampled_from(("append", "insert", "cut", "splice", "set", "size", "contents", "patch")))
        if way == "append":
            beds.append(data.draw(small))
            self.log.tell_of(wire.APPEND * wire.FORMS, (0,), beds[-1])
        elif way == "insert":
            beds.insert(place, data.draw(small))
            self.log.tell_of(wire.INSERT * wire.FORMS, (0, place), beds[place])
        elif way == "cut":
            del beds[place : place + count]
            self._wholes(wire.CUT, place, count)
        elif way == "splice":
            beds[place : place + count] = added = data.draw(st.lists(small, max_size=4))
            self.log.describe(wire.SPLICE, [0, place, count, added])
        elif way == "set" and place < size:
            beds[place] = data.draw(small)
            self.log.tell_of(wire.SET_INDEX * wire.FORMS, (0, place), beds[place])
        elif way == "size":
            del beds[place:]
            self._wholes(wire.SIZE, place)
        elif way == "contents":
            data.draw(st.randoms(use_true_random=False)).shuffle(beds)
            del beds[place:]
            self.log.describe(wire.CONTENTS, [0, beds, None, None])
        elif way == "patch" and place < size:
            beds[place] = data.draw(small)
            self.log.describe(wire.PATCH, [0, None, [place], [beds[place]], []])

    def _wholes(self, kind: int, *wholes: int) -> None:
        self.log.wholes += (0, *wholes)
        self.log.events.append(kind * wire.FORMS)


def held_at(trace: Trace, place: int, step: int) -> Any:
    """What stands at a place just before a step, by its whole history."""
    (spot,) = spots_of_path(trace, np.array([0]), f"level[{place}]") or [None]
    if spot is None:
        return None
    course = trace.cells.course(*spot) if isinstance(spot, tuple) else trace.histories.columns_of(spot)
    value = NOT_SET
    for by, held in zip(*(column.tolist() for column in course), strict=True):
        value = held if by < step else value
    return None if value == NOT_SET else trace.values.get(value)


@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(beds=st.lists(small, max_size=6), data=st.data())
def test_a_list_changed_anywhere_is_known_at_each_step(
    beds: list[int], data: st.DataObject, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(cells, "_FEWEST", 3)
    told = Told(beds)
    told.step()
    for _ in range(data.draw(st.integers(1, 25))):
        for _ in range(data.draw(st.integers(1, 2))):
            told.change(data)
        if data.draw(st.integers(0, 5)) == 0:
            told.log.flush()  # a chunk ends, and what has come so far is looked at
            told.builder.trace()
        told.step()
    told.log.flush()
    recording_file.save(told.builder.trace(), tmp_path / "beds.eelrec")
    trace = recording_file.load(tmp_path / "beds.eelrec")
    other = SecondReader(tmp_path / "beds.eelrec")
    for step, expected in enumerate(told.before):
        if step > 1:
            assert insides.size_of_object(trace, 0, step) == len(expected)
            assert [
                trace.values.get(insides.element(trace, 0, place, step)) for place in range(-len(expected), 0)
            ] == expected
            keys = [trace.values.get(key) for key, _ in insides.items(trace, 0, step)]
            assert keys == list(range(len(expected)))
            for place in range(7):
                here = expected[place] if place < len(expected) else None
                assert held_at(trace, place, step) == here, (place, step)
            assert other.variables(step)["level"] == repr(expected)


def test_what_a_queue_writes_does_not_grow_with_it() -> None:
    """Each change writes what it changes; a hundred steps of a longer queue take as many writes as of a shorter one."""
    written = []
    for size in (50, 500):
        told = Told(list(range(size)))
        for number in range(100):
            told.step()
            told.beds.pop(0)
            told.log.wholes += (0, 0, 1)
            told.log.events.append(wire.CUT * wire.FORMS)
            told.beds.append(number)
            told.log.tell_of(wire.APPEND * wire.FORMS, (0,), number)
        told.step()
        told.log.flush()
        trace = told.builder.trace()
        assert 0 in trace.cells
        written.append(len(trace.slots.when) - size)
    assert written[0] == written[1]


def test_what_leaves_a_list_at_its_front_is_what_is_said_to_be_lost(record: Record) -> None:
    recording = record("queue = ['Ana', 'Bo', 'Cy']\nqueue.pop(0)\nqueue.insert(1, 'Dee')\nqueue.pop()\nend = 0\n")
    notes = [recording.line_notes.of_visit(visit, visit + 1) for visit in (2, 3, 4)]
    assert [note and note.did for note in notes] == ["queue loses 'Ana'", "queue[1] ← 'Dee'", "queue loses 'Cy'"]


def test_cells_that_lie_are_refused(tmp_path: Path) -> None:
    told = Told([1, 2, 3])
    told.step()
    told.beds.pop(0)
    told.log.wholes += (0, 0, 1)
    told.log.events.append(wire.CUT * wire.FORMS)
    told.step()
    told.log.flush()
    trace = told.builder.trace()
    recording_file.save(trace, tmp_path / "right.eelrec")
    its = np.flatnonzero(trace.slots.part == Part.CELL)
    slots = trace.slots
    beside = {  # an element by its place, beside the cells
        "part": np.append(slots.part, Part.ITEM).astype(slots.part.dtype),
        "owner": np.append(slots.owner, slots.owner[its[0]]),
        "key": np.append(slots.key, slots.key[its[0]]),
        "when": np.append(slots.when, len(slots) << 32 | 1),
        "write_value": np.append(slots.write_value, slots.write_value[-1]),
    }
    for name, wrong in (
        ("beside", beside),
        ("twice", {"key": np.where(np.arange(len(slots)) == its[0], slots.key[its[1]], slots.key)}),
        ("mixed", {"part": np.where(np.arange(len(slots)) == its[0], Part.ITEM, slots.part)}),
    ):
        lying = type(slots)(**{**vars(slots), **wrong})
        bad = type(trace)(**{**{field: getattr(trace, field) for field in trace.__dataclass_fields__}, "slots": lying})
        recording_file.save(bad, tmp_path / f"{name}.eelrec")
        with pytest.raises(recording_file.RecordingError, match="list"):
            recording_file.load(tmp_path / f"{name}.eelrec")
