"""Starting a child process that runs a program, for a run and for a side run alike."""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import signal
import subprocess
import sys
import tempfile
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from eelgrass.recorder import packing
from eelgrass.recorder.order import ChildOrder, SideQuestion
from eelgrass.runs.child.room import Room
from eelgrass.runs.confinement import environment_of
from eelgrass.runs.order import Order, child_script
from eelgrass.runs.texts.source_text import encoded

#: Call frames of `recorder/__main__.py` below the program's module: its own module, `_main`, and `exec`.
BASE_FRAMES = 3
#: Asks the child to tell what it has and to end. No program uses this one, as far as anybody knows.
ASK_SIGNAL = signal.SIGRTMAX - 3
#: The same, of one that does not hear: it is inside of one call of C.
INSIST_SIGNAL = signal.SIGRTMAX - 4
#: Has the child tell what it has, and go on.
TELL_SIGNAL = signal.SIGRTMAX - 5
_PIPE_BYTES = 1 << 20


def speed_of_recording() -> str:
    """In words, whether programs are recorded at full speed here."""
    return "hooks compiled" if packing.IS_COMPILED else "hooks not compiled: programs are recorded more slowly"


@dataclass(frozen=True)
class Child:
    """A child process, and the reading end of the stream of its events."""

    process: subprocess.Popen[bytes]
    stream: int


def start_child(
    order: Order, room: Room, side: SideQuestion | None = None, is_watched: bool = True, **how: Any
) -> Child:
    """Starts a child in a room; `how` is what `subprocess.Popen` is told besides; `is_watched`: `ChildOrder`. Raises
    OSError, ValueError for a text that cannot be encoded as it says, and CannotRunError where it cannot be confined."""
    reading, writing = os.pipe()
    try:
        with contextlib.suppress(OSError):  # a smaller pipe is only slower
            fcntl.fcntl(reading, fcntl.F_SETPIPE_SZ, _PIPE_BYTES)
        with _texts_file(order.texts) as texts_fd:
            process = subprocess.Popen(
                [
                    str(order.python or sys.executable),
                    str(child_script()),
                    _for_child(order, writing, texts_fd, side)
                    ._replace(is_watched=is_watched, linked=room.linked, confinement=room.plan_of(order))
                    .as_json(),
                ],
                pass_fds=[writing, *([texts_fd] if texts_fd >= 0 else [])],
                env=_environment(order),
                cwd=room.folder,
                **how,
            )
    except BaseException:
        os.close(reading)
        raise
    finally:
        os.close(writing)
    return Child(process, reading)


@contextlib.contextmanager
def _texts_file(texts: Mapping[str, str]) -> Iterator[int]:
    """The number of an open file with the texts that run in place of what files hold; -1 for none."""
    if not texts:
        yield -1
        return
    for text in texts.values():
        encoded(text, b"")  # which raises what the child could only guess at
    with tempfile.TemporaryFile() as file:
        file.write(json.dumps(dict(texts)).encode())
        file.seek(0)
        yield file.fileno()


def _environment(order: Order) -> dict[str, str]:
    environment = environment_of(order.leave, os.environ)
    if order.seed is not None:
        environment["PYTHONHASHSEED"] = str(order.seed % (1 << 32))
    return environment


def _for_child(order: Order, fd: int, texts_fd: int, side: SideQuestion | None) -> ChildOrder:
    program = str(order.program.absolute()) if order.program else None
    return ChildOrder(
        fd=fd,
        texts_fd=texts_fd,
        program=program,
        module=order.module,
        argv0=order.module or str(order.program),
        arguments=list(order.arguments),
        folder=os.path.dirname(os.path.realpath(program)) if program else os.getcwd(),
        base_frames=BASE_FRAMES,
        open_libraries=order.open_libraries,
        seed=order.seed,
        clock=order.clock,
        max_steps=order.max_steps,
        max_seconds=order.max_seconds,
        max_processor_seconds=order.max_processor_seconds,
        max_memory_mib=order.max_memory_mib,
        max_output=order.max_output,
        max_elements=order.max_elements,
        max_recording_mib=order.max_recording_mib,
        ask_signal=ASK_SIGNAL,
        insist_signal=INSIST_SIGNAL,
        tell_signal=0 if side else TELL_SIGNAL,
        side=side,
        settings=order.settings,
        turns=order.turns,
        desk=order.desk,
    )
