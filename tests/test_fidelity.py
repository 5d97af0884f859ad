"""The recorder against plain Python (need X2) and against the oracle, on the demo lesson and the corpus."""

from __future__ import annotations

import json
import re
import subprocess
import sys
from pathlib import Path

import pytest

import eelgrass.lessons
from eelgrass.reading import answers
from eelgrass.trace import files

HERE = Path(__file__).parent
CORPUS = HERE / "corpus"
DEMO = Path(eelgrass.lessons.__file__).parent / "demo"
PROGRAMS = [
    DEMO / "gauge_report" / "gauge_report.py",
    DEMO / "crab_tags" / "crab_tags.py",
    DEMO / "ferry_list" / "ferry_list.py",
    *sorted(CORPUS.glob("*.py")),
    CORPUS / "two_modules" / "main.py",
]
IDS = [program.stem for program in PROGRAMS]


def run(command: list[str], program: Path) -> subprocess.CompletedProcess[bytes]:
    prepared = [program.with_suffix(".txt"), program.with_name("input.txt")]
    given = next((path.read_bytes() for path in prepared if path.exists()), b"")
    return subprocess.run(
        [*command, str(program), "a reason"], input=given, capture_output=True, cwd=program.parent, check=False
    )


def plain(program: Path) -> subprocess.CompletedProcess[bytes]:
    return run([sys.executable, "-B"], program)


def recorded(program: Path, out: Path) -> subprocess.CompletedProcess[bytes]:
    return run([sys.executable, "-m", "eelgrass.cli", "record", "-o", str(out)], program)


@pytest.mark.parametrize("program", PROGRAMS, ids=IDS)
def test_a_recorded_program_prints_and_ends_exactly_as_a_plain_one(program: Path, tmp_path: Path) -> None:
    bare, ours = plain(program), recorded(program, tmp_path / "run.eelrec")
    assert ours.stdout == bare.stdout
    assert ours.stderr == bare.stderr
    assert ours.returncode == bare.returncode
    assert bare.stdout, "a program that prints nothing shows nothing"


def without_numbers(text: str) -> str:
    return re.sub(r"<(\w+) #\d+>", r"<\1>", text)


@pytest.mark.parametrize("program", PROGRAMS, ids=IDS)
def test_the_recording_agrees_with_the_oracle_at_every_line(program: Path, tmp_path: Path) -> None:
    photographs = tmp_path / "oracle.jsonl"
    run([sys.executable, str(HERE / "oracle.py"), str(photographs)], program)
    expected = [json.loads(line) for line in photographs.read_text().splitlines()]
    recorded(program, tmp_path / "run.eelrec")
    seen = [
        {
            "file": row["file"],
            "line": row["line"],
            "function": row["function"],
            "variables": {
                name: without_numbers(value["text"]) for name, value in row["variables"].items() if name != "_"
            },
        }
        for row in answers.dump(files.load(tmp_path / "run.eelrec"))
        if row["kind"] == "line"
    ]
    for number, (ours, theirs) in enumerate(zip(seen, expected, strict=False)):
        assert ours == theirs, f"line event {number}"
    # The oracle's own calls need room on the stack, so it reaches the end of it a few frames early.
    spare = 30 if program.stem == "endless_depth" else 0
    assert 5 < len(expected) <= len(seen) <= len(expected) + spare
