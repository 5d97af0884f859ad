"""The two judges of a recording: the plain run, and the oracle's photographs of every line."""

from __future__ import annotations

import ast
import json
import os
import re
import subprocess
import sys
from functools import lru_cache
from pathlib import Path
from typing import Any

from eelgrass.export import json_rows
from eelgrass.recorder import packing
from eelgrass.runs.order import Order
from eelgrass.runs.run import Run
from eelgrass.trace.model import Trace
from support.oracle import is_idle
from support.runs import CORPUS as CORPUS

HERE = Path(__file__).parent
#: The scopes that the oracle does not see: comprehensions that are part of their frame.
UNSEEN = ("<listcomp>", "<setcomp>", "<dictcomp>") if sys.version_info >= (3, 12) else ()
#: Whether the hooks of the children are compiled, without which some things differ from a plain run.
AS_PLAIN = packing.IS_COMPILED and os.environ.get("EELGRASS_HOOKS") != "plain"


def run(command: list[str], program: Path, given: bytes = b"") -> subprocess.CompletedProcess[bytes]:
    """Runs a program with a command before it, in its own folder."""
    whole = [*command, str(program), "a reason"]
    return subprocess.run(whole, input=given, capture_output=True, cwd=program.parent, check=False, timeout=120)


def plain(program: Path, given: bytes = b"") -> subprocess.CompletedProcess[bytes]:
    """The plain run."""
    return run([sys.executable, "-B"], program, given)


def photographs(program: Path, out: Path, given: bytes = b"") -> list[dict[str, object]]:
    """The oracle's rows."""
    run([sys.executable, str(HERE / "oracle.py"), str(out)], program, given)
    return [json.loads(line) for line in out.read_text().splitlines()]


def lines_of(trace: Trace) -> list[dict[str, object]]:
    """The recording's rows, in the oracle's form."""
    return [
        {
            "file": row["file"],
            "line": row["line"],
            "function": row["function"],
            "variables": {name: _deep(value) for name, value in row["variables"].items() if name != "_"},
        }
        for row in json_rows.dump(trace)
        if row["kind"] == "line" and row["function"] not in UNSEEN and row["line"] not in _idle_lines(row["file"])
    ]


@lru_cache
def _idle_lines(file: str) -> frozenset[int]:
    """The lines of statements at which it depends on the version whether anything runs."""
    return frozenset(node.lineno for node in ast.walk(ast.parse(Path(file).read_bytes())) if is_idle(node))


def _deep(value: dict[str, Any]) -> object:
    """A value in the oracle's form."""
    if not {"items", "fields"} & {*value} or value["type"] in ("ndarray", "array"):
        return re.sub(r"<([\w-]+) #\d+>", r"<\1>", value["text"])
    held: dict[str, Any] = {"type": value["type"]}
    if "items" in value:
        held["items"] = [[*map(_deep, item)] if isinstance(item, list) else _deep(item) for item in value["items"]]
    if "fields" in value:
        held["fields"] = {name: _deep(field) for name, field in value["fields"].items()}
    return held


#: The elements of larger sets stand in any order.
_MOST_ORDERED = 64


def _alike(ours: Any, theirs: Any) -> bool:
    """Whether two values, or rows, are the same; the elements of a set stand in any order, and what a library's objects
    keep for themselves is not looked at."""
    if type(ours) is not type(theirs):
        return False
    if isinstance(ours, list):
        return len(ours) == len(theirs) and all(map(_alike, ours, theirs))
    if isinstance(ours, str) and ours.startswith("{") and ours.count(", ") >= _MOST_ORDERED and ": " not in ours:
        return sorted(ours[1:-1].split(", ")) == sorted(theirs[1:-1].split(", "))
    if not isinstance(ours, dict):
        return bool(ours == theirs)
    in_any_order = theirs.get("in any order") is True
    left_out = {"in any order", "a library's", "texts", "in thread", *(("fields",) if "a library's" in theirs else ())}
    ours, theirs = ({name: value for name, value in its.items() if name not in left_out} for its in (ours, theirs))
    if in_any_order:
        ours, theirs = ({**its, "items": sorted(its["items"], key=json.dumps)} for its in (ours, theirs))
    return {*ours} == {*theirs} and all(_alike(ours[name], theirs[name]) for name in ours)


def assert_agree(trace: Trace, expected: list[dict[str, object]], spare: int = 0) -> None:
    """Fails at the first line event at which recording and oracle differ; the recording may be `spare` rows longer."""
    seen = lines_of(trace)
    for number, (ours, theirs) in enumerate(zip(seen, expected, strict=False)):
        assert _alike(ours, theirs), f"line event {number}: {ours} {theirs}"
    assert len(expected) <= len(seen) <= len(expected) + spare


def judge(program: Path, text: str) -> None:
    """Fails where a recording differs from the plain run or from the oracle."""
    program.write_text(text)
    run_ = Run(Order(program))
    run_.start()
    trace = run_.wait()
    bare = plain(program)
    assert "".join(
        piece for piece, channel in zip(trace.texts.pieces, trace.texts.channel, strict=True) if channel == 1
    ) == (bare.stdout.decode())
    assert trace.outcome.exit_status == bare.returncode
    assert_agree(trace, photographs(program, program.with_suffix(".jsonl")))
