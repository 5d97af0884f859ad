"""What a child process is started with."""

from __future__ import annotations

import contextlib
import os
import signal
import tempfile
from collections.abc import Iterator
from typing import Any

from eelgrass.runs.order import Order

#: Call frames of `recorder/__main__.py` below the program's module: its own module, `_main`, and `exec`.
BASE_FRAMES = 3
#: Asks the child to tell what it has and to end. No program uses this one, as far as anybody knows.
ASK_SIGNAL = signal.SIGRTMAX - 3


@contextlib.contextmanager
def lent(text: str | None) -> Iterator[int | None]:
    """The number of an open file with the text that is to run in place of the program's own; None for none.
    Raises OSError, and ValueError for a text that cannot be encoded as it says."""
    if text is None:
        yield None
        return
    with tempfile.TemporaryFile() as file:
        from eelgrass.runs.source_text import encoded  # which loads much that plain runs do not need

        file.write(encoded(text, b""))
        file.seek(0)
        yield file.fileno()


def environment(order: Order) -> dict[str, str]:
    """The environment of a child."""
    environment = dict(os.environ)
    if order.seed is not None:
        environment["PYTHONHASHSEED"] = str(order.seed % (1 << 32))
    return environment


def told(order: Order, fd: int) -> dict[str, Any]:
    """The order as the child reads it."""
    program = str(order.program.absolute()) if order.program else None
    folder = os.path.dirname(os.path.realpath(program)) if program else os.getcwd()
    return {
        "fd": fd,
        "program": program,
        "module": order.module,
        "argv0": str(order.program) if order.program else order.module,
        "arguments": list(order.arguments),
        "folder": folder,
        "open_libraries": list(order.open_libraries),
        "seed": order.seed,
        "clock": order.clock,
        "base_frames": BASE_FRAMES,
        "max_steps": order.max_steps,
        "max_seconds": order.max_seconds,
        "max_processor_seconds": order.max_processor_seconds,
        "max_memory_mib": order.max_memory_mib,
        "max_output": order.max_output,
        "ask_signal": ASK_SIGNAL,
    }
