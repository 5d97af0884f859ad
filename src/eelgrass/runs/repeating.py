"""Running again what a recording tells of."""

from __future__ import annotations

import contextlib
from dataclasses import replace
from pathlib import Path
from typing import Any

from eelgrass.errors import EelgrassError
from eelgrass.runs.order import (
    MAX_ELEMENTS,
    MAX_RECORDING_MIB,
    OWN_FOLDER,
    Act,
    CannotRunError,
    Desk,
    Leave,
    Order,
    Turns,
    kept_clock,
)
from eelgrass.runs.pythons.choosing import Choice, choice
from eelgrass.trace.model import Texts, Trace


class SideRunError(EelgrassError):
    """It cannot be run again, or there is no answer; the message is a sentence for the person."""


def typed_in(trace: Trace) -> str:
    """All that was typed into a run."""
    return "".join(trace.texts.of(Texts.TYPED))


def lines_typed_in(trace: Trace) -> tuple[list[str], bool]:
    """(the lines that were typed into a run, whether it was told that there are no more): then it has read something
    that is not one whole line."""
    pieces = trace.texts.of(Texts.TYPED)
    lines = "".join(pieces).removesuffix("\n").split("\n") if any(pieces) else []
    return lines, any(not piece or piece.find("\n") != len(piece) - 1 for piece in pieces)


def _bounds(case: dict[str, Any]) -> tuple[int, int]:
    """How much of large values, and in all, was recorded."""
    told = case.get("bounds")
    if isinstance(told, list) and len(told) == 2 and all(type(its) is int and its >= 0 for its in told):
        return told[0], told[1]
    return MAX_ELEMENTS, MAX_RECORDING_MIB


def kept_turns(case: dict[str, Any]) -> Turns | None:
    """In which order a recording's threads took turns; None where they did not."""
    if "turns_taken" not in case:
        return None
    told = case.get("turns", {})
    switches = told.get("switches", []) if isinstance(told, dict) else []
    try:
        return Turns(int(told.get("number", 0)), tuple((int(place), int(thread)) for place, thread in switches))
    except (AttributeError, TypeError, ValueError):
        return None


def kept_desk(case: dict[str, Any]) -> Desk | None:
    """What was done at the desk of a recording; None where there was none."""
    told = case.get("desk")
    try:
        if not isinstance(told, dict):
            return None
        return Desk(tuple(Act(float(its[0]), *its[1:]) for its in told["acts"]), float(told["until"]))
    except (KeyError, TypeError, ValueError, IndexError):
        return None


def again(trace: Trace, leave: Leave | None = OWN_FOLDER) -> Order:
    """The order to run the same case again, with the texts that were recorded, without limits, reaching what it has
    leave to. Raises SideRunError."""
    case = trace.case
    program, module, seed = case.get("program"), case.get("module"), case.get("seed")
    if not isinstance(program, str) or module not in (None, "pytest") or not Path(program).is_file():
        raise SideRunError("The program of this recording is not on this machine, so its functions cannot be run.")
    chosen = _python(case, Path(program).parent)
    arguments, opened = case.get("arguments"), case.get("open_libraries")
    order = Order(
        Path(program),
        texts={its.file: its.source for its in trace.program.modules},
        module=module,
        arguments=tuple(map(str, arguments if isinstance(arguments, list) else [])),
        open_libraries=tuple(map(str, opened if isinstance(opened, list) else [])),
        seed=seed if isinstance(seed, int) else None,
        python=chosen.interpreter.python,
        python_found=chosen.words,
        max_steps=0,
        max_elements=_bounds(case)[0],
        max_recording_mib=_bounds(case)[1],
        leave=leave,
        turns=kept_turns(case),
        desk=kept_desk(case),
    )
    with contextlib.suppress(CannotRunError):
        return replace(order, clock=kept_clock(case) if "clock" in case else None)
    return order


def _python(case: dict[str, Any], folder: Path) -> Choice:
    """The Python for that: the one of the folder, never one that only the recording names."""
    made_by = case.get("python")
    try:
        chosen = choice(folder)
    except CannotRunError as error:
        raise SideRunError(str(error)) from error
    found = chosen.interpreter
    version = str(made_by.get("version")) if isinstance(made_by, dict) else ""
    if version and version.split(".")[:2] != [str(part) for part in found.version[:2]]:
        raise SideRunError(
            f"This recording was made by Python {version}, and the programs of this folder are run by {found.name}: "
            "nothing can be run aside in it."
        )
    return chosen
