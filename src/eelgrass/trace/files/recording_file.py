"""Recordings as files: `*.eelrec`, described in `docs/formats/recording.md`.

A ZIP with `manifest.json`, `program.json`, two `.jsonl` files of texts and one `.npy` for each column. Loading
believes nothing: sizes, kinds, ranges and references are checked before a `Trace` is made.
"""

from __future__ import annotations

import io
import json
import zipfile
import zlib
from collections.abc import Iterator
from pathlib import Path
from tokenize import TokenError
from typing import Any

import numpy as np
import numpy.typing as npt

from eelgrass.atomic_write import replaced
from eelgrass.errors import EelgrassError
from eelgrass.trace.files.check import check
from eelgrass.trace.files.json_parts import FORMAT, FileKind, Manifest, ProgramPart, decoded, encoded, nesting
from eelgrass.trace.histories import Slots
from eelgrass.trace.model import Closures, Frames, Objects, Raises, Results, Resumes, Steps, Texts, Trace, Turns
from eelgrass.trace.program import Program
from eelgrass.trace.values import Kind, Values

VERSION = 5
_MOST_MANIFEST_BYTES = 1 << 22
_MOST_PROGRAM_BYTES = 1 << 25
_MOST_LINE_BYTES = 1 << 26
#: More than this is unpacked only of a file that is not so many times smaller.
_MUCH_BYTES, _MOST_TIMES = 1 << 30, 50
#: What a text takes in memory, besides its characters.
_TEXT_BYTES = 80
_NESTING = 40
_MOST_HEADER_BYTES = 256

#: Every column: group, name, type.
COLUMNS: tuple[tuple[str, str, str], ...] = (
    *(("steps", name, kind) for name, kind in (("statement", "i4"), ("frame", "i4"), ("kind", "u1"))),
    *(("frames", name, "i4") for name in ("function", "caller", "call_step", "first", "last", "value", "thread")),
    ("frames", "end", "u1"),
    *(("resumes", name, "i4") for name in ("step", "frame", "caller", "call_step")),
    *(("closures", name, "i4") for name in ("frame", "owner")),
    *(("results", name, "i4") for name in ("step", "frame", "expression", "value")),
    ("slots", "part", "u1"),
    *(("slots", name, "i4") for name in ("owner", "key", "write_slot", "write_step", "write_value")),
    ("values", "kinds", "u1"),
    ("values", "payloads", "i8"),
    *(("objects", name, kind) for name, kind in (("shape", "u1"), ("type", "i4"), ("first", "i4"))),
    ("texts", "step", "i4"),
    ("texts", "channel", "u1"),
    *(("raises", name, "i4") for name in ("step", "value", "line", "column", "end_line", "end_column")),
    ("raises", "caught", "u1"),
    *(("turns", name, kind) for name, kind in (("step", "i4"), ("thread", "i4"), ("what", "u1"), ("other", "i4"))),
)
#: The version from which on a group of columns is there.
_SINCE = {"turns": 5}
#: Of these the file holds the differences between neighbours, which are small and much alike.
DIFFERENCES = frozenset(
    (
        *(("frames", name) for name in ("call_step", "first", "last")),
        *(("resumes", "step"), ("resumes", "call_step"), ("results", "step"), ("results", "frame")),
        *(("slots", "owner"), ("slots", "write_slot"), ("slots", "write_step")),
        *(("objects", "first"), ("texts", "step"), ("raises", "step")),
    )
)


class RecordingError(EelgrassError):
    """A file that is no readable recording; the message is a sentence for the person."""


def save(trace: Trace, path: Path) -> None:
    """Writes the recording in one go: a crash leaves the old file or the new one. Raises OSError."""
    with replaced(path) as file:
        _write(trace, file)


def _write(trace: Trace, file: Any) -> None:
    its = trace.program
    program = ProgramPart(
        its.modules, its.functions, its.statements, its.expressions, trace.objects.shapes, trace.objects.types
    )
    rows = {f"{group}.{name}": len(getattr(getattr(trace, group), name)) for group, name, _ in COLUMNS}
    manifest = Manifest(FORMAT, VERSION, trace.outcome, trace.case, rows)
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        archive.writestr("manifest.json", encoded(manifest))
        archive.writestr("program.json", encoded(program))
        for name, lines in _texts(trace).items():
            archive.writestr(name, "".join(json.dumps(line) + "\n" for line in lines))
        for group, name, kind in COLUMNS:
            data = io.BytesIO()
            column = getattr(getattr(trace, group), name)
            if (group, name) in DIFFERENCES:
                column = np.diff(column.astype(np.int64), prepend=0)
            stored = np.ascontiguousarray(column, np.dtype(kind).newbyteorder("<"))
            np.lib.format.write_array(data, stored, allow_pickle=False)
            archive.writestr(f"{group}.{name}.npy", data.getvalue())


def _texts(trace: Trace) -> dict[str, list[str]]:
    return {"values.jsonl": trace.values.texts, "texts.jsonl": trace.texts.pieces}


def load(path: Path) -> Trace:
    """Reads a recording. Raises RecordingError with a sentence when it is none, is damaged or is too new, and OSError
    when the file cannot be read."""
    try:
        with zipfile.ZipFile(path) as archive:
            trace = _Reader(archive, path.name).trace()
    except MemoryError as error:
        raise RecordingError(f"“{path.name}” takes more memory than there is.") from error
    except zipfile.BadZipFile as error:
        raise RecordingError(f"“{path.name}” is not a recording, or it is damaged.") from error
    except (EOFError, zlib.error, NotImplementedError, RuntimeError) as error:
        raise RecordingError(f"“{path.name}” is damaged: a part of it cannot be unpacked.") from error
    except (KeyError, TypeError, ValueError, OverflowError, RecursionError) as error:
        raise RecordingError(f"“{path.name}” is damaged: its parts do not fit together ({error}).") from error
    return trace


class _Reader:
    """Reads one file. What the manifest says of lengths is compared with what the ZIP says of sizes before anything
    large is unpacked, and each part is unpacked no further than that."""

    def __init__(self, archive: zipfile.ZipFile, name: str) -> None:
        self.archive = archive
        self.name = name
        self.version = VERSION
        self.rows: dict[str, int] = {}
        self.members = {info.filename: info for info in archive.infolist()}
        if len(self.members) != len(archive.infolist()):
            raise ValueError("two parts have the same name")

    def trace(self) -> Trace:
        """The recording, checked."""
        manifest = self._manifest()
        if nesting(manifest.case) > _NESTING:
            raise ValueError("what the run was started with is nested too deeply")
        self.version, self.rows = manifest.version, manifest.rows
        self._check_sizes()
        told = decoded(self._bytes("program.json", _MOST_PROGRAM_BYTES), ProgramPart)
        groups: dict[str, dict[str, Any]] = {}
        for group, name, kind in COLUMNS:
            groups.setdefault(group, {})[name] = self._column(group, name, kind)
        kinds = groups["values"]["kinds"]
        texts = self._lines("values.jsonl", int(np.count_nonzero((kinds == Kind.TEXT) | (kinds == Kind.OTHER))))
        trace = Trace(
            Program(told.modules, told.functions, told.statements, told.expressions),
            Steps.of(**groups["steps"]),
            Frames(**groups["frames"]),
            Resumes(**groups["resumes"]),
            Closures(**groups["closures"]),
            Results(**groups["results"]),
            Slots.of(**groups["slots"]),
            Values(**groups["values"], texts=texts),
            Objects(**groups["objects"], shapes=told.shapes, types=told.types),
            Texts(**groups["texts"], pieces=self._lines("texts.jsonl", len(groups["texts"]["step"]))),
            Raises(**groups["raises"]),
            manifest.outcome,
            case=manifest.case,
            turns=Turns(**groups["turns"]),
        )
        check(trace)
        return trace

    def _manifest(self) -> Manifest:
        data = self._bytes("manifest.json", _MOST_MANIFEST_BYTES)
        kind = decoded(data, FileKind)
        if kind.format != FORMAT:
            raise RecordingError(f"“{self.name}” is not a recording of Eelgrass.")
        if kind.version > VERSION:
            raise RecordingError(f"“{self.name}” was made by a newer Eelgrass than this one, which cannot read it.")
        return decoded(data, Manifest)

    def _check_sizes(self) -> None:
        whole = sum(info.file_size for info in self.members.values())
        whole += _TEXT_BYTES * (self.rows["values.kinds"] + self.rows["texts.step"])
        packed = sum(info.compress_size for info in self.members.values())
        if whole > _MUCH_BYTES and whole > _MOST_TIMES * packed:
            raise RecordingError(f"“{self.name}” would take {whole >> 20:,} MiB of memory: no recording is packed so.")
        lengths: dict[str, int] = {}
        for group, name, kind in self._columns():
            column = f"{group}.{name}"
            rows = self.rows[column]
            size = self._info(f"{column}.npy").file_size
            if not 0 < size - rows * np.dtype(kind).itemsize <= _MOST_HEADER_BYTES:
                raise ValueError(f"column {column} is not as long as it should be")
            kin = f"{group}.write" if name.startswith("write_") else group
            if lengths.setdefault(kin, rows) != rows:
                raise ValueError(f"the columns of {kin} differ in length")

    def _columns(self) -> Iterator[tuple[str, str, str]]:
        """Those that a file of this version has."""
        return (its for its in COLUMNS if _SINCE.get(its[0], 0) <= self.version)

    def _info(self, member: str) -> zipfile.ZipInfo:
        info = self.members.get(member)
        if info is None:
            raise RecordingError(f"“{self.name}” is damaged: its part “{member}” is missing.")
        return info

    def _bytes(self, member: str, most: int) -> bytes:
        with self.archive.open(self._info(member)) as file:
            data = file.read(most + 1)
        if len(data) > most:
            raise RecordingError(f"“{self.name}” is damaged: its part “{member}” is larger than it can be.")
        return data

    def _lines(self, member: str, count: int) -> list[str]:
        """Exactly so many texts, one a line."""
        lines: list[str] = []
        with self.archive.open(self._info(member)) as file:
            while line := file.readline(_MOST_LINE_BYTES):
                text = json.loads(line)
                if type(text) is not str or len(lines) == count:
                    raise ValueError(f"{member} holds more than it should")
                lines.append(text)
        if len(lines) != count:
            raise ValueError(f"{member} holds less than it should")
        return lines

    def _column(self, group: str, name: str, kind: str) -> npt.NDArray[Any]:
        if self.version < _SINCE.get(group, 0):
            return np.zeros(0, kind)
        rows = self.rows[f"{group}.{name}"]
        with self.archive.open(self._info(f"{group}.{name}.npy")) as file:
            data = io.BytesIO(file.read(rows * np.dtype(kind).itemsize + _MOST_HEADER_BYTES))
        # What it says of itself is looked at before room is made for it.
        try:
            if np.lib.format.read_magic(data) != (1, 0):
                raise ValueError(f"column {group}.{name} has the wrong form")
            shape, _, type_ = np.lib.format.read_array_header_1_0(data)
        except (TokenError, SyntaxError) as error:
            raise ValueError(f"column {group}.{name} has the wrong form") from error
        stored = data.read()
        if type_ != np.dtype(kind) or shape != (rows,) or len(stored) != rows * type_.itemsize:
            raise ValueError(f"column {group}.{name} has the wrong type or length")
        column: npt.NDArray[Any] = np.frombuffer(stored, type_)
        if self.version > 1 and (group, name) in DIFFERENCES:
            whole = np.cumsum(column, dtype=np.int64)
            if len(whole) and not (int(np.min(whole)) >= -1 and int(np.max(whole)) < 1 << 31):
                raise ValueError(f"column {group}.{name} leads too far")
            column = whole.astype(np.int32)
        column.flags.writeable = False
        return column
