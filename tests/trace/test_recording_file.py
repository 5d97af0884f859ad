"""Recordings as files: what is saved is what is loaded, and damage ends in a sentence."""

from __future__ import annotations

import io
import json
import subprocess
import sys
import warnings
import zipfile
from collections.abc import Callable
from pathlib import Path

import jsonschema
import numpy as np
import pytest
from conftest import Record
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from support.second_reader import SecondReader

from eelgrass.export import json_rows
from eelgrass.trace.files import json_parts, recording_file
from eelgrass.trace.files.recording_file import RecordingError

#: Made by the first version, of a program with classes, a generator, exceptions, deletions and odd values.
OLD = Path(__file__).parents[1] / "recordings" / "version-1.eelrec"
DOCS = Path(__file__).parents[2] / "docs" / "formats"

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
    recording_file.save(record(TEXT).trace, path)
    return path


def test_what_is_saved_is_what_is_loaded(record: Record, tmp_path: Path) -> None:
    trace = record(TEXT).trace
    recording_file.save(trace, tmp_path / "beds.eelrec")
    again = recording_file.load(tmp_path / "beds.eelrec")
    assert list(json_rows.dump(again)) == list(json_rows.dump(trace))
    assert again.outcome == trace.outcome
    assert again.outcome.outcome == "raised"
    assert again.program == trace.program
    assert again.texts.pieces == trace.texts.pieces
    assert list(tmp_path.glob(".*")) == [], "nothing temporary is left"


def test_a_failed_save_leaves_the_old_file(saved: Path, record: Record, monkeypatch: pytest.MonkeyPatch) -> None:
    before = saved.read_bytes()

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(recording_file, "_write", full)
    with pytest.raises(OSError, match="No space"):
        recording_file.save(record("level = 1\n").trace, saved)
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
        trace = recording_file.load(damaged)
    except RecordingError:
        return  # the only way in which loading may fail
    list(json_rows.dump(trace))  # what loads must be readable


def test_a_second_reader_finds_the_same(record: Record, tmp_path: Path) -> None:
    path = tmp_path / "ferry.eelrec"
    recording_file.save(recording_file.load(OLD), path)
    session, trace = SecondReader(path), recording_file.load(path)
    for row in json_rows.dump(trace):
        enclosing = trace.function_of_frame(row["frame"]).free
        expected = {name: told["text"] for name, told in row["variables"].items() if name not in enclosing}
        assert session.variables(row["step"]) == expected


def test_a_file_of_the_first_version_loads_with_all_that_it_holds(tmp_path: Path) -> None:
    trace = recording_file.load(OLD)
    assert "".join(trace.texts.pieces).startswith("no room: Plover is full\nno room: Dunlin is full\n")
    last = list(json_rows.dump(trace))[-1]["variables"]
    assert last["fares"]["text"] == "{'mud bank': 10000000000000000000000000, ('a', 1): b'\\x00reef'}"
    recording_file.save(trace, tmp_path / "again.eelrec")
    again = recording_file.load(tmp_path / "again.eelrec")
    assert list(json_rows.dump(again)) == list(json_rows.dump(trace))
    assert again.slots.when.tolist() == trace.slots.when.tolist()


def test_the_json_parts_are_as_the_schema_says(saved: Path) -> None:
    schema = json.loads((DOCS / "recording.schema.json").read_text())
    assert schema == json_parts.schema(), (
        "docs/formats/recording.schema.json is out of date: write json_parts.schema() into it"
    )
    with zipfile.ZipFile(saved) as archive:
        for member, type_ in (("manifest.json", "Manifest"), ("program.json", "ProgramPart")):
            told = json.loads(archive.read(member))
            jsonschema.validate(told, {**schema, "$ref": f"#/$defs/{type_}"})
            with pytest.raises(jsonschema.ValidationError):
                jsonschema.validate({**told, next(iter(told)): 7}, {**schema, "$ref": f"#/$defs/{type_}"})


BLANKS = b" " * (1 << 28)
Parts = dict[str, bytes]


def rows(parts_: Parts, **changed: int) -> bytes:
    """The manifest with other lengths of columns of steps."""
    manifest = json.loads(parts_["manifest.json"])
    manifest["rows"].update({f"steps.{name}": length for name, length in changed.items()})
    return json.dumps(manifest).encode()


#: Recordings that were made to do harm: what is different in them.
HOSTILE: dict[str, Callable[[Parts], Parts]] = {
    "swapped": lambda its: {
        "steps.frame.npy": its["frames.first.npy"],
        "frames.first.npy": its["steps.frame.npy"],
    },
    "long lines": lambda its: {"values.jsonl": b'"' + BLANKS},
    "many lines": lambda its: {"texts.jsonl": b'""\n' * (1 << 24)},
    "large program": lambda its: {"program.json": BLANKS},
    "large manifest": lambda its: {"manifest.json": BLANKS},
    "lists in lists": lambda its: {"manifest.json": b'{"case": {"program": [' + b"[]," * (1 << 21)},
    "long column": lambda its: {"steps.kind.npy": column([0], "u1") + BLANKS},
    "many rows": lambda its: {"manifest.json": rows(its, kind=1 << 28), "steps.kind.npy": column([0], "u1") + BLANKS},
    "rows that cannot be": lambda its: {"manifest.json": rows(its, kind=-5)},
    "more rows than there are": lambda its: {"manifest.json": rows(its, kind=1 << 30)},
}

LOAD = """\
import resource, sys
from pathlib import Path
from eelgrass.trace.files import recording_file
before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
try:
    recording_file.load(Path(sys.argv[1]))
except recording_file.RecordingError as error:
    print(error, file=sys.stderr)
    print((resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) // 1024)
"""


@pytest.mark.parametrize("name", HOSTILE)
def test_hostile_files_are_refused_before_they_take_much_memory(name: str, saved: Path, tmp_path: Path) -> None:
    with zipfile.ZipFile(saved) as old:
        its = {member: old.read(member) for member in old.namelist()}
    target = tmp_path / "hostile.eelrec"
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as new:
        for member, data in {**its, **HOSTILE[name](its)}.items():
            new.writestr(member, data)
    done = subprocess.run([sys.executable, "-c", LOAD, str(target)], capture_output=True, text=True, check=True)
    assert done.stdout, "it was loaded"
    assert done.stderr.startswith("“hostile.eelrec” is ")
    assert int(done.stdout) < 200, "megabytes"


def test_names_that_lead_out_or_come_twice_are_refused(saved: Path, tmp_path: Path) -> None:
    for target, prefix in ((tmp_path / "out" / "in" / "a.eelrec", "../../"), (tmp_path / "twice.eelrec", "")):
        target.parent.mkdir(parents=True, exist_ok=True)
        with zipfile.ZipFile(saved) as old, zipfile.ZipFile(target, "w") as new, warnings.catch_warnings():
            warnings.simplefilter("ignore")  # of the name that comes twice
            for member in [*old.namelist(), "manifest.json"]:
                new.writestr(prefix + member, old.read(member))
        with pytest.raises(RecordingError, match="damaged"):
            recording_file.load(target)
    assert not (tmp_path / "manifest.json").exists()


def column(values: list[int], dtype: str) -> bytes:
    data = io.BytesIO()
    np.save(data, np.array(values, dtype))
    return data.getvalue()


@settings(max_examples=120, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
@given(data=st.data())
def test_swapped_parts_and_columns_of_noise_end_in_a_sentence(saved: Path, data: st.DataObject) -> None:
    with zipfile.ZipFile(saved) as old:
        its = {member: old.read(member) for member in old.namelist()}
    one, other = (data.draw(st.sampled_from(sorted(its))) for _ in range(2))
    if data.draw(st.booleans()):
        changed = {one: its[other], other: its[one]}
    else:
        header = its[one][:128]
        changed = {one: header + data.draw(st.binary(min_size=len(its[one]) - 128, max_size=len(its[one]) - 128))}
    noisy = saved.with_name("noisy.eelrec")
    try:
        trace = recording_file.load(rewrite(saved, noisy, changed))
    except RecordingError:
        return
    list(json_rows.dump(trace))


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
        recording_file.load(rewrite(saved, saved.with_name("lying.eelrec"), changed))


def test_other_files_newer_ones_and_missing_parts_are_told_apart(saved: Path, tmp_path: Path) -> None:
    plain = tmp_path / "plain.eelrec"
    plain.write_text("no recording")
    with pytest.raises(RecordingError, match="not a recording"):
        recording_file.load(plain)
    newer = {"format": recording_file.FORMAT, "version": recording_file.VERSION + 1}
    with pytest.raises(RecordingError, match="newer Eelgrass"):
        recording_file.load(rewrite(saved, tmp_path / "new.eelrec", {"manifest.json": json.dumps(newer).encode()}))
    with pytest.raises(RecordingError, match="missing"):
        recording_file.load(rewrite(saved, tmp_path / "less.eelrec", {}, left_out="frames.end.npy"))
