"""The case of a recording: how its run was started, so that it can be made again."""

from __future__ import annotations

from typing import Any

from eelgrass.runs.order import MAX_ELEMENTS, MAX_RECORDING_MIB, OWN_TURNS, Order
from eelgrass.runs.pythons.interpreters import interpreter


def case_of(order: Order) -> dict[str, Any]:
    """What is kept of an order with its recording."""
    program = str(order.program) if order.program else None
    case: dict[str, Any] = {
        "program": program,
        "module": order.module,
        "arguments": list(order.arguments),
        "seed": order.seed,
    }
    by = interpreter(order.python)
    version = ".".join(map(str, by.version))
    case["python"] = {"file": str(by.file), "version": version, "found": order.python_found}
    if order.settings:
        case["what_if"] = [list(its) for its in order.settings]
    if order.turns is None:
        case["turns"] = None
    elif order.turns != OWN_TURNS:
        case["turns"] = {"number": order.turns.number, "switches": [list(its) for its in order.turns.switches]}
    if order.desk is not None:
        case["desk"] = {"acts": [list(act) for act in order.desk.acts], "until": order.desk.until}
    if (order.max_elements, order.max_recording_mib) != (MAX_ELEMENTS, MAX_RECORDING_MIB):
        case["bounds"] = [order.max_elements, order.max_recording_mib]
    return {**case, "open_libraries": list(order.open_libraries)} if order.open_libraries else case
