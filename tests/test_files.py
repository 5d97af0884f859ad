"""Recordings as files: what is saved is what is loaded, and damage ends in a sentence."""

from __future__ import annotations

import io
import json
import zipfile
from pathlib import Path

import numpy as np
import pytest
from conftest import Record
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from eelgrass.reading import answers
from eelgrass.trace import files
from eelgrass.trace.files import RecordingError

TEXT = """\
class Bed:
    def __init__(self, shoots):
        self.shoots = shoots
beds = [Bed(3), Bed(2**70)]
odd = ("a", 1.5, None, {"reef": b"x"})
print("out", "\\ud800".encode("utf-8", "replace"))
beds[7]
"""


def rewrite(path: Path, target: Path, changed: dict[str, bytes], left_out: str = "") -> Path:
    """A copy of a recording with some of its parts changed or left out."""
    with zipfile.ZipFile(path) as old, zipfile.ZipFile(target, "w") as new:
        for name in old.namelist():
            if name != left_out:
                new.writestr(name, changed.get(name, old.read(name)))
    return target


@pytest.fixture
def saved(record: Record, tmp_path: Path) -> Path:
    path = tmp_path / "beds.eelrec"
    files.save(record(TEXT).trace, path)
    return path


def test_what_is_saved_is_what_is_loaded(record: Record, tmp_path: Path) -> None:
    trace = record(TEXT).trace
    files.save(trace, tmp_path / "beds.eelrec")
    again = files.load(tmp_path / "beds.eelrec")
    assert list(answers.dump(again)) == list(answers.dump(trace))
    assert again.outcome == trace.outcome
    assert again.outcome.outcome == "raised"
    assert again.program == trace.program
    assert again.texts.pieces == trace.texts.pieces
    assert list(tmp_path.glob(".*")) == [], "nothing temporary is left"


def test_a_failed_save_leaves_the_old_file(saved: Path, record: Record, monkeypatch: pytest.MonkeyPatch) -> None:
    before = saved.read_bytes()

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(files, "_write", full)
    with pytest.raises(OSError, match="No space"):
        files.save(record("level = 1\n").trace, saved)
    assert saved.read_bytes() == before
    assert list(saved.parent.glob(".beds*")) == []


@settings(max_examples=150, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
@given(data=st.data())
def test_damaged_bytes_end_in_a_sentence(saved: Path, data: st.DataObject) -> None:
    content = bytearray(saved.read_bytes())
    for _ in range(data.draw(st.integers(1, 4))):
        content[data.draw(st.integers(0, len(content) - 1))] = data.draw(st.integers(0, 255))
    cut = data.draw(st.integers(0, len(content)))
    damaged = saved.with_name("damaged.eelrec")
    damaged.write_bytes(content[:cut] if data.draw(st.booleans()) else content)
    try:
        trace = files.load(damaged)
    except RecordingError:
        return  # the only way in which loading may fail
    list(answers.dump(trace))  # what loads must be readable


def column(values: list[int], dtype: str) -> bytes:
    data = io.BytesIO()
    np.save(data, np.array(values, dtype))
    return data.getvalue()


@pytest.mark.parametrize(
    "changed",
    [
        {"steps.frame.npy": column([0, 1, 99], "<i4")},
        {"steps.kind.npy": column([0], "u1")},
        {"frames.caller.npy": column([5] * 4, "<i4")},
        {"slots.owner.npy": column([0], "<f8")},
        {"values.kinds.npy": np.array([{}], object).dumps()},
        {"texts.jsonl": b'{"not": "a text"}\n'},
        {"program.json": b"[" * 100_000},
        {"program.json": b"{}"},
        {"manifest.json": b'{"format": "eelgrass recording", "version": "one"}'},
    ],
)
def test_parts_that_lie_end_in_a_sentence(saved: Path, changed: dict[str, bytes]) -> None:
    with pytest.raises(RecordingError, match="damaged"):
        files.load(rewrite(saved, saved.with_name("lying.eelrec"), changed))


def test_other_files_newer_ones_and_missing_parts_are_told_apart(saved: Path, tmp_path: Path) -> None:
    plain = tmp_path / "plain.eelrec"
    plain.write_text("no recording")
    with pytest.raises(RecordingError, match="not a recording"):
        files.load(plain)
    newer = {"format": files.FORMAT, "version": files.VERSION + 1}
    with pytest.raises(RecordingError, match="newer Eelgrass"):
        files.load(rewrite(saved, tmp_path / "new.eelrec", {"manifest.json": json.dumps(newer).encode()}))
    with pytest.raises(RecordingError, match="missing"):
        files.load(rewrite(saved, tmp_path / "less.eelrec", {}, left_out="frames.end.npy"))
