"""Recordings as files: `*.eelrec`, described in `docs/formats/recording.md`.

A ZIP with `manifest.json`, `program.json`, two `.jsonl` files of texts and one `.npy` for each column. Loading
believes nothing: sizes, kinds, ranges and references are checked before a `Trace` is made.
"""

from __future__ import annotations

import io
import json
import os
import tempfile
import zipfile
import zlib
from dataclasses import asdict
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt

from eelgrass.trace.check import check
from eelgrass.trace.histories import Slots
from eelgrass.trace.model import Closures, Frames, Objects, Outcome, Raises, Results, Resumes, Steps, Texts, Trace
from eelgrass.trace.program import Expression, Function, Module, Program, Statement
from eelgrass.trace.values import Values

VERSION = 2
FORMAT = "eelgrass recording"
#: No member may be larger than this when unpacked, and all of them together not larger than four times this.
MAX_MEMBER_BYTES = 1 << 30

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
)
#: Of these the file holds the differences between neighbours, which are small and much alike.
DIFFERENCES = frozenset(
    (
        *(("frames", name) for name in ("call_step", "first", "last")),
        *(("resumes", "step"), ("resumes", "call_step"), ("results", "step"), ("results", "frame")),
        *(("slots", "owner"), ("slots", "write_slot"), ("slots", "write_step")),
        *(("objects", "first"), ("texts", "step"), ("raises", "step")),
    )
)


class RecordingError(Exception):
    """A file that is no readable recording; the message is a sentence for the person."""


def save(trace: Trace, path: Path) -> None:
    """Writes the recording in one go: a crash leaves the old file or the new one. Raises OSError."""
    handle, temporary = tempfile.mkstemp(prefix=f".{path.name}.", dir=path.parent)
    try:
        with os.fdopen(handle, "wb") as file:
            os.fchmod(handle, 0o666 & ~_umask())
            _write(trace, file)
            file.flush()
            os.fsync(handle)
        os.replace(temporary, path)
    except BaseException:
        Path(temporary).unlink(missing_ok=True)
        raise


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def _write(trace: Trace, file: Any) -> None:
    program = {
        "modules": [asdict(module) for module in trace.program.modules],
        "functions": [asdict(function) for function in trace.program.functions],
        "statements": [list(asdict(statement).values()) for statement in trace.program.statements],
        "expressions": [list(asdict(expression).values()) for expression in trace.program.expressions],
        "shapes": trace.objects.shapes,
        "types": trace.objects.types,
    }
    manifest = {
        "format": FORMAT,
        "version": VERSION,
        "outcome": asdict(trace.outcome),
        "case": trace.case,
        "rows": {f"{group}.{name}": len(getattr(getattr(trace, group), name)) for group, name, _ in COLUMNS},
    }
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        archive.writestr("manifest.json", json.dumps(manifest, indent=1))
        archive.writestr("program.json", json.dumps(program))
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
    except zipfile.BadZipFile as error:
        raise RecordingError(f"“{path.name}” is not a recording, or it is damaged.") from error
    except (EOFError, zlib.error, NotImplementedError, RuntimeError) as error:
        raise RecordingError(f"“{path.name}” is damaged: a part of it cannot be unpacked.") from error
    except (KeyError, TypeError, ValueError, IndexError, AttributeError, OverflowError, RecursionError) as error:
        raise RecordingError(f"“{path.name}” is damaged: its parts do not fit together ({error}).") from error
    return trace


class _Reader:
    def __init__(self, archive: zipfile.ZipFile, name: str) -> None:
        self.archive = archive
        self.name = name
        self.version = VERSION
        self.members = {info.filename: info for info in archive.infolist()}
        if sum(info.file_size for info in self.members.values()) > 4 * MAX_MEMBER_BYTES:
            raise RecordingError(f"“{name}” claims to hold more than a recording can.")

    def _bytes(self, member: str) -> bytes:
        info = self.members.get(member)
        if info is None:
            raise RecordingError(f"“{self.name}” is damaged: its part “{member}” is missing.")
        if info.file_size > MAX_MEMBER_BYTES:
            raise RecordingError(f"“{self.name}” claims to hold more than a recording can.")
        with self.archive.open(info) as file:
            return file.read(info.file_size + 1)

    def _lines(self, member: str) -> list[str]:
        lines = [json.loads(line) for line in self._bytes(member).decode("ascii").splitlines()]
        if not all(type(line) is str for line in lines):
            raise ValueError(f"{member} holds more than texts")
        return lines

    def _column(self, group: str, name: str, kind: str) -> npt.NDArray[Any]:
        data = io.BytesIO(self._bytes(f"{group}.{name}.npy"))
        column = np.lib.format.read_array(data, allow_pickle=False)
        if column.dtype != np.dtype(kind) or column.ndim != 1:
            raise ValueError(f"column {group}.{name} has the wrong type")
        if self.version > 1 and (group, name) in DIFFERENCES:
            whole = np.cumsum(column, dtype=np.int64)
            if len(whole) and not (int(whole.min()) >= -1 and int(whole.max()) < 1 << 31):
                raise ValueError(f"column {group}.{name} leads too far")
            column = whole.astype(np.int32)
        result: npt.NDArray[Any] = column
        result.flags.writeable = False
        return result

    def trace(self) -> Trace:
        manifest = json.loads(self._bytes("manifest.json"))
        if type(manifest) is not dict or manifest.get("format") != FORMAT:
            raise RecordingError(f"“{self.name}” is not a recording of Eelgrass.")
        if type(manifest["version"]) is not int:
            raise ValueError("its version is no number")
        if manifest["version"] > VERSION:
            raise RecordingError(f"“{self.name}” was made by a newer Eelgrass than this one, which cannot read it.")
        self.version = manifest["version"]
        told = json.loads(self._bytes("program.json"))
        groups: dict[str, dict[str, Any]] = {}
        for group, name, kind in COLUMNS:
            groups.setdefault(group, {})[name] = self._column(group, name, kind)
        trace = Trace(
            _program(told),
            Steps.of(**groups["steps"]),
            Frames(**groups["frames"]),
            Resumes(**groups["resumes"]),
            Closures(**groups["closures"]),
            Results(**groups["results"]),
            Slots.of(**groups["slots"]),
            Values(**groups["values"], texts=self._lines("values.jsonl")),
            Objects(**groups["objects"], shapes=_texts_of(told["shapes"]), types=_texts_of(told["types"])),
            Texts(**groups["texts"], pieces=self._lines("texts.jsonl")),
            Raises(**groups["raises"]),
            _outcome(manifest["outcome"]),
            case=dict(manifest["case"]),
        )
        check(trace)
        return trace


def _texts_of(told: Any) -> list[str]:
    if type(told) is not list or not all(type(text) is str for text in told):
        raise ValueError("a list of texts holds something else")
    return told


def _outcome(told: dict[str, Any]) -> Outcome:
    reason = told["reason"]
    return Outcome(
        str(told["outcome"]), None if reason is None else str(reason), int(told["exit_status"]), float(told["seconds"])
    )


def _program(told: dict[str, Any]) -> Program:
    return Program(
        [Module(str(module["file"]), str(module["source"])) for module in told["modules"]],
        [_function(row) for row in told["functions"]],
        [_statement(row) for row in told["statements"]],
        [_expression(row) for row in told["expressions"]],
    )


def _statement(row: list[Any]) -> Statement:
    line, column, end_line, end_column, kind, function, parent, arm = row
    place = (int(line), int(column), int(end_line), int(end_column))
    return Statement(*place, str(kind), int(function), int(parent), int(arm))


def _expression(row: list[Any]) -> Expression:
    line, column, end_line, end_column, kind, statement = row
    return Expression(int(line), int(column), int(end_line), int(end_column), str(kind), int(statement))


def _function(row: dict[str, Any]) -> Function:
    lists = (tuple(_texts_of(row[name])) for name in ("params", "local", "free", "global_"))
    place = (int(row["module"]), str(row["name"]), str(row["kind"]))
    return Function(*place, bool(row["waits"]), int(row["parent"]), int(row["line"]), *lists)
