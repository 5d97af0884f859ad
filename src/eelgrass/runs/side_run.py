"""Side runs: a fresh process runs the same case to one step of a recording, and answers a question there.

Nothing of the recording changes, and nothing of the process stays.
"""

from __future__ import annotations

import json
import subprocess
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass, field, replace

from eelgrass.recorder import wire
from eelgrass.recorder.order import SideQuestion
from eelgrass.runs.child.child_process import start_child
from eelgrass.runs.child.room import Room
from eelgrass.runs.child.scratch import Scratch
from eelgrass.runs.child.supervision import Patience, Supervision
from eelgrass.runs.order import OWN_FOLDER, CannotRunError, Leave, Order
from eelgrass.runs.repeating import SideRunError, again, typed_in
from eelgrass.trace.model import Trace

MAX_SECONDS = 10.0
MAX_MEMORY_MIB = 2048
_MOST_BYTES = 1 << 24

#: Is handed what gives a side run up.
Listen = Callable[[Callable[[], None]], None]


@dataclass(frozen=True)
class SideAnswer:
    """What a side run gave: the value's Python type and text, or, where the expression raised an exception, that in
    `raised`; the seconds that it took; and by what its place can be known: the characters that were written by then,
    and the texts of the frame's plain names."""

    type: str
    text: str
    raised: str
    seconds: float
    written: int = 0
    names: dict[str, str] = field(default_factory=dict)


def ask_aside(
    trace: Trace,
    step: int,
    up: int,
    expression: str,
    listen: Listen = lambda _stop: None,
    leave: Leave | None = OWN_FOLDER,
) -> SideAnswer:
    """Asks a question just before a step, `up` calls further out than the innermost frame. Blocks until there is an
    answer, for at most MAX_SECONDS of the run's time. `listen` is handed what gives the side run up, to be called from
    any thread; `leave` is what the program may reach. Raises SideRunError."""
    begun = time.monotonic()
    order = replace(again(trace, leave), max_seconds=MAX_SECONDS, max_memory_mib=MAX_MEMORY_MIB)
    assert order.program is not None
    try:
        room = Room(scratch=Scratch(order.program.resolve().parent))
    except OSError as error:
        raise SideRunError(f"A side run cannot be made: {error}") from error
    try:
        blocks = _answers(order, SideQuestion(step, up, expression), trace, room, listen)
    except CannotRunError as error:
        raise SideRunError(str(error)) from error
    except (OSError, ValueError) as error:
        raise SideRunError(f"A side run cannot be made: {error}.") from error
    finally:
        room.remove()
    seconds = time.monotonic() - begun
    if len(blocks) < 2:
        raise SideRunError(
            "The side run did not come to this step: it went another way than the recording, or ended before."
            if not blocks
            else f"The side run was stopped: the answer took longer than {MAX_SECONDS:g} seconds, or too much memory."
        )
    try:
        where, answer = (json.loads(block) for block in blocks[:2])
        names = {str(name): str(text) for name, text in where["locals"].items()}
        type_, text, raised = (str(answer.get(key, "")) for key in ("type", "text", "raised"))
        return SideAnswer(type_, text, raised, seconds, int(where["written"]), names)
    except (ValueError, TypeError, KeyError, AttributeError) as error:
        raise SideRunError("The side run gave an answer that cannot be read.") from error


def _answers(order: Order, side: SideQuestion, trace: Trace, room: Room, listen: Listen) -> list[bytes]:
    """The blocks with the answer; fewer than two where it did not come in time, or nobody waited for it any longer."""
    found: list[bytes] = []

    def take(kind: int, payload: bytes) -> bool:
        if kind == wire.ANSWER and len(payload) <= _MOST_BYTES:
            found.append(payload)
        return len(found) < 2

    with tempfile.TemporaryFile() as typing:
        typing.write(typed_in(trace).encode("utf-8", "surrogateescape"))
        typing.seek(0)
        null = subprocess.DEVNULL
        child = start_child(
            order,
            room,
            side,
            stdin=typing,
            stdout=null,
            stderr=null,
            start_new_session=True,
        )
        supervision = Supervision(child, take, Patience(MAX_SECONDS, asked=False), owns_group=True)
        listen(supervision.stop)
        supervision.watch()
    return found
