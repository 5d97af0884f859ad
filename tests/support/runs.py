"""Runs of programs, and what is typed into them, as tests and judges make them."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path
from typing import Any

from eelgrass.runs.order import Order
from eelgrass.runs.run import Run
from eelgrass.trace.model import Trace

#: Learners' programs, each of which the recorder has to get right.
CORPUS = Path(__file__).parents[1] / "corpus"


def input_of(program: Path) -> bytes:
    """What is prepared to be typed into a program: a text beside it."""
    prepared = [program.with_suffix(".txt"), program.with_name("input.txt")]
    return next((path.read_bytes() for path in prepared if path.exists()), b"")


def lines_for(program: Path) -> list[str]:
    """The same, by lines."""
    return input_of(program).decode().splitlines()


def run_of(program: Path, typed: Iterable[str] = (), **order: Any) -> Trace:
    """A run of a program, with lines typed into it. Raises CannotRunError."""
    run = Run(Order(program, **order))
    run.start()
    return run.fed(typed)


def run_of_text(text: str, typed: Iterable[str], folder: Path, **order: Any) -> Trace:
    """The same of a program given as text. Raises CannotRunError."""
    program = folder / "program.py"
    program.write_text(text)
    return run_of(program, typed, **order)
