"""The two judges of a recording: the plain run, and the oracle's photographs of every line."""

from __future__ import annotations

import json
import re
import subprocess
import sys
from pathlib import Path

from eelgrass.export import json_rows
from eelgrass.trace.model import Trace

HERE = Path(__file__).parent
#: Learners' programs, each of which the recorder has to get right.
CORPUS = HERE.parent / "corpus"


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
            "variables": {
                name: re.sub(r"<(\w+) #\d+>", r"<\1>", value["text"])
                for name, value in row["variables"].items()
                if name != "_"
            },
        }
        for row in json_rows.dump(trace)
        if row["kind"] == "line"
    ]


def assert_agree(trace: Trace, expected: list[dict[str, object]], spare: int = 0) -> None:
    """Fails at the first line event at which recording and oracle differ; the recording may be `spare` rows longer."""
    seen = lines_of(trace)
    for number, (ours, theirs) in enumerate(zip(seen, expected, strict=False)):
        assert ours == theirs, f"line event {number}"
    assert len(expected) <= len(seen) <= len(expected) + spare
