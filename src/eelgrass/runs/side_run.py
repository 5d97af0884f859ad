"""Side runs: a fresh process runs the same case to one step of a recording, and answers a question there (need A1).

Nothing of the recording changes, and nothing of the process stays.
"""

from __future__ import annotations

import contextlib
import json
import os
import selectors
import signal
import subprocess
import sys
import tempfile
import threading
import time
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

from eelgrass.recorder import wire
from eelgrass.runs.child_process import environment, told
from eelgrass.runs.order import CannotRunError, Order, child_script, kept_clock
from eelgrass.runs.scratch import Scratch
from eelgrass.trace.model import Trace

MAX_SECONDS = 10.0
MAX_MEMORY_MIB = 2048
_READ_BYTES = 1 << 16
_MOST_BYTES = 1 << 24
_LOOK_SECONDS = 0.05


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


class SideRunError(Exception):
    """There is no answer; the message is a sentence for the person."""


def ask_aside(trace: Trace, step: int, up: int, expression: str, given_up: threading.Event | None = None) -> SideAnswer:
    """Asks a question just before a step, `up` calls further out than the innermost frame. Blocks until there is an
    answer, for at most MAX_SECONDS of the run's time. Raises SideRunError."""
    begun = time.monotonic()
    order = _order(trace)
    assert order.program is not None
    try:
        scratch = Scratch(order.program.resolve().parent)
    except (OSError, CannotRunError) as error:
        raise SideRunError(f"A side run cannot be made: {error}") from error
    try:
        blocks = _run(order, _aside(trace, step, up, expression), trace, scratch, given_up or threading.Event())
    finally:
        scratch.remove()
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


def _order(trace: Trace) -> Order:
    case = trace.case
    program, module, seed = case.get("program"), case.get("module"), case.get("seed")
    if not isinstance(program, str) or module or not Path(program).is_file():
        raise SideRunError("The program of this recording is not on this machine, so its functions cannot be run.")
    arguments, opened = case.get("arguments"), case.get("open_libraries")
    order = Order(
        Path(program),
        arguments=tuple(map(str, arguments if isinstance(arguments, list) else [])),
        open_libraries=tuple(map(str, opened if isinstance(opened, list) else [])),
        seed=seed if isinstance(seed, int) else None,
        max_steps=0,
        max_seconds=MAX_SECONDS,
        max_memory_mib=MAX_MEMORY_MIB,
    )
    with contextlib.suppress(CannotRunError):
        return replace(order, clock=kept_clock(case) if "clock" in case else None)
    return order


def _aside(trace: Trace, step: int, up: int, expression: str) -> dict[str, Any]:
    texts = {module.file: module.source for module in trace.program.modules}
    return {"step": step, "up": up, "expression": expression, "texts": texts}


def _run(order: Order, aside: dict[str, Any], trace: Trace, scratch: Scratch, given_up: threading.Event) -> list[bytes]:
    """The blocks with the answer; fewer than two where it did not come."""
    typed = [
        piece for piece, channel in zip(trace.texts.pieces, trace.texts.channel.tolist(), strict=True) if not channel
    ]
    reading, writing = os.pipe()
    with tempfile.TemporaryFile() as typing, tempfile.NamedTemporaryFile("w", suffix=".json") as asked:
        typing.write("".join(typed).encode("utf-8", "surrogateescape"))
        typing.seek(0)
        json.dump(aside, asked)
        asked.flush()
        try:
            process = subprocess.Popen(
                [sys.executable, str(child_script()), json.dumps({**told(order, writing), "aside": asked.name})],
                pass_fds=[writing],
                env=environment(order),
                stdin=typing,
                stdout=subprocess.DEVNULL,
                stderr=subprocess.DEVNULL,
                start_new_session=True,
                cwd=scratch.folder,
            )
        finally:
            os.close(writing)
        try:
            return _read(reading, process, given_up)
        finally:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(process.pid, signal.SIGKILL)
            process.wait()
            os.close(reading)


def _read(reading: int, process: subprocess.Popen[bytes], given_up: threading.Event) -> list[bytes]:
    """What the child answers, as long as it is in time and somebody waits for it."""
    blocks, size = wire.Blocks(), 0
    found: list[bytes] = []
    deadline = time.monotonic() + MAX_SECONDS
    with selectors.DefaultSelector() as selector:
        selector.register(reading, selectors.EVENT_READ)
        while len(found) < 2 and not given_up.is_set() and time.monotonic() < deadline:
            if not selector.select(_LOOK_SECONDS):
                continue
            data = os.read(reading, _READ_BYTES)
            size += len(data)
            if not data or size > _MOST_BYTES:
                break
            try:
                found += [payload for kind, payload in blocks.feed(data) if kind == wire.ANSWER]
            except wire.StreamError:
                break
    return found
