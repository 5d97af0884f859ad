"""Running again what a recording tells of."""

from __future__ import annotations

import contextlib
from dataclasses import replace
from pathlib import Path
from typing import Any

from eelgrass.errors import EelgrassError
from eelgrass.runs.choosing import choice
from eelgrass.runs.order import CannotRunError, Order, kept_clock
from eelgrass.trace.model import Trace


class SideRunError(EelgrassError):
    """It cannot be run again, or there is no answer; the message is a sentence for the person."""


def typed_in(trace: Trace) -> str:
    """All that was typed into a run."""
    columns = zip(trace.texts.pieces, trace.texts.channel.tolist(), strict=True)
    return "".join(piece for piece, channel in columns if not channel)


def again(trace: Trace) -> Order:
    """The order to run the same case again, with the texts that were recorded, without limits. Raises SideRunError."""
    case = trace.case
    program, module, seed = case.get("program"), case.get("module"), case.get("seed")
    if not isinstance(program, str) or module not in (None, "pytest") or not Path(program).is_file():
        raise SideRunError("The program of this recording is not on this machine, so its functions cannot be run.")
    python = _python(case, Path(program).parent)
    arguments, opened = case.get("arguments"), case.get("open_libraries")
    order = Order(
        Path(program),
        texts={its.file: its.source for its in trace.program.modules},
        module=module,
        arguments=tuple(map(str, arguments if isinstance(arguments, list) else [])),
        open_libraries=tuple(map(str, opened if isinstance(opened, list) else [])),
        seed=seed if isinstance(seed, int) else None,
        python=python,
        max_steps=0,
    )
    with contextlib.suppress(CannotRunError):
        return replace(order, clock=kept_clock(case) if "clock" in case else None)
    return order


def _python(case: dict[str, Any], folder: Path) -> Path | None:
    """The Python for that: the one of the folder, never one that only the recording names."""
    made_by = case.get("python")
    try:
        found = choice(folder).interpreter
    except CannotRunError as error:
        raise SideRunError(str(error)) from error
    version = str(made_by.get("version")) if isinstance(made_by, dict) else ""
    if version and version.split(".")[:2] != [str(part) for part in found.version[:2]]:
        raise SideRunError(
            f"This recording was made by Python {version}, and the programs of this folder are run by {found.name}: "
            "nothing can be run aside in it."
        )
    return found.python
