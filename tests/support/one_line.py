"""The stream of a program of one line, `level = 1`, to which tests add events."""

from __future__ import annotations

import json

from eelgrass.recorder import wire
from eelgrass.trace.building.builder import Builder

MODULE = {
    "file": "tide.py",
    "source": "level = 1\n",
    "first_point": wire.FIRST_POINT,
    "functions": [
        {
            "name": "<module>",
            "kind": "module",
            "waits": False,
            "parent": -1,
            "line": 1,
            "params": [],
            "local": ["level"],
        }
        | {"free": [], "global": []}
    ],
    "statements": [[1, 0, 1, 9, "assign", 0, -1, 0]],
    "expressions": [],
    "points": [[wire.ENTER, -1, 0, None], [wire.STEP, 0, 0, None], [wire.STORE, 0, 0, "level"]],
}
ENTER, STEP, STORE = (point * wire.FORMS for point in range(wire.FIRST_POINT, wire.FIRST_POINT + 3))


def builder() -> Builder:
    made = Builder()
    made.module(json.dumps(MODULE).encode())
    return made
