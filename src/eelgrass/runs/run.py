"""One recorded run, seen from the parent: a child process and the recording that grows from its stream."""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import queue
import selectors
import signal
import subprocess
import sys
import threading
import time
import traceback
from collections.abc import Callable
from dataclasses import replace
from typing import IO, Any

from eelgrass.recorder import wire
from eelgrass.runs.child_process import ASK_SIGNAL, environment, lent, told
from eelgrass.runs.order import CannotRunError, Order, check_text, child_script
from eelgrass.runs.scratch import Scratch
from eelgrass.trace.building.builder import Builder
from eelgrass.trace.building.stream import StreamError
from eelgrass.trace.model import Outcome, Trace

#: Exit status of a run that a limit or the person stopped.
STOPPED = 3
#: So long a child that has been asked may take until it is ended without being asked.
_GRACE_SECONDS = 0.7
_READ_BYTES = 1 << 20
_PIPE_BYTES = 1 << 20
#: When so many blocks wait to be built, the program has to wait after all.
_MOST_UNBUILT_BLOCKS = 512
_KEPT_ERROR_BYTES = 1 << 16

#: So many steps are worth telling of before the end; then the recording has to have grown so many times.
_FEWEST, _MORE = 1000, 4

#: Called from a thread of the run with the recording so far.
Listener = Callable[[Trace], None]


class Run:
    """A run on its way. Nothing here blocks the caller but `record` and `wait`.

    `on_waiting` is called when the program waits for input, `on_progress` when the first `_FEWEST` steps have arrived
    and again whenever there are `_MORE` times as many, `on_end` once, when the recording is complete; all from threads
    of the run's own.
    """

    def __init__(
        self,
        order: Order,
        on_waiting: Listener | None = None,
        on_progress: Listener | None = None,
        on_end: Listener | None = None,
    ) -> None:
        self.order = order
        self.returncode: int | None = None
        self._on_waiting = on_waiting or (lambda _trace: None)
        self._on_progress = on_progress
        self._told_steps = _FEWEST // _MORE
        self._on_end = on_end or (lambda _trace: None)
        self._builder = Builder(_case(order), order.max_steps)
        self._blocks = wire.Blocks()
        self._ended = False
        self._stopped_by_person = False
        self._broken: str | None = None
        self._errors = b""
        self._process: subprocess.Popen[bytes] | None = None
        self._arrived: queue.Queue[tuple[int, bytes] | None] = queue.Queue(_MOST_UNBUILT_BLOCKS)
        self._thread: threading.Thread | None = None
        self._bell = -1
        self._typing = threading.RLock()
        self._typed_early: list[bytes | None] = []
        self._waiting_since: float | None = None
        self._waited = 0.0
        self._deadline: float | None = None
        self._asked_at: float | None = None
        self._own_session = self._in_place = False
        self._scratch: Scratch | None = None
        self._too_late: str | None = None

    # For a window: the program talks to us

    def start(self, in_place: bool = False) -> None:
        """Starts the program in a session of its own and in a copy of its folder (or, where that is a copy already,
        `in_place`), with its input and output in our hands. Where no copy or no process can be had, the run ends at
        once, and its outcome says why.

        Raises CannotRunError when its text does not compile.
        """
        if self.order.program is not None:
            check_text(self.order.program, self.order.text)
        self._own_session = True
        self._in_place = in_place
        self._thread = threading.Thread(target=self._run_apart, name="eelgrass-run", daemon=True)
        self._thread.start()

    def _run_apart(self) -> None:
        """On the run's own thread, since copying a folder may take a while."""
        try:
            folder = self.order.program.resolve().parent if self.order.program is not None else None
            if folder is not None and not self._in_place:
                self._scratch = Scratch(folder)
                folder = self._scratch.folder
            stream = self._spawn(
                stdin=subprocess.PIPE,
                stdout=subprocess.DEVNULL,
                stderr=subprocess.PIPE,
                start_new_session=True,
                cwd=folder,
            )
        except (CannotRunError, OSError, ValueError) as error:
            self._end_scratch()
            self._broken = f"It cannot be run: {error.strerror}." if isinstance(error, OSError) else str(error)
            self._conclude()
            self._on_end(self._builder.trace())
            return
        self._read(stream)

    def type_line(self, line: str) -> None:
        """Gives the program one line of input."""
        self._feed(line.encode("utf-8", "surrogateescape") + b"\n")

    def end_input(self) -> None:
        """Tells the program that there is no more input."""
        self._feed(None)

    def _stdin(self) -> IO[bytes] | None:
        stdin = self._process.stdin if self._process else None
        return None if stdin is None or stdin.closed else stdin

    def _feed(self, data: bytes | None) -> None:
        """Hands on what is typed, None for the end of it; what comes before there is a process has to wait."""
        with self._typing:
            if self._process is None:
                self._typed_early.append(data)
                return
            stdin = self._stdin()
            if stdin is None:
                return
            with contextlib.suppress(BrokenPipeError, ConnectionError):  # it has ended, which the stream tells
                if data is None:
                    stdin.close()
                else:
                    stdin.write(data)
                    stdin.flush()

    def stop(self) -> None:
        """Ends the program, and all that it started. What was recorded until then is kept."""
        self._stopped_by_person = True
        with contextlib.suppress(OSError, ValueError):  # the run may not have begun, or just have ended
            os.eventfd_write(self._bell, 1)

    def wait(self) -> Trace:
        """Blocks until the run has ended; gives the whole recording."""
        if self._thread is not None:
            self._thread.join()
        return self._builder.trace()

    # For a shell: the program has our standard streams

    def record(self, scratch: Scratch | None = None) -> Trace:
        """Runs the program with our own standard input, output and error, where we are or in `scratch`, and blocks
        until it has ended."""
        self._scratch = scratch
        interrupt = signal.signal(signal.SIGINT, signal.SIG_IGN)  # an interrupt is the program's to answer
        try:
            stream = self._spawn(
                preexec_fn=lambda: signal.signal(signal.SIGINT, interrupt), cwd=scratch.folder if scratch else None
            )
            self._read(stream)
        finally:
            signal.signal(signal.SIGINT, interrupt)
        return self._builder.trace()

    # The child

    def _spawn(self, **how: Any) -> int:
        """Starts the child; gives the reading end of its stream."""
        reading, writing = os.pipe()
        try:
            with contextlib.suppress(OSError):  # a smaller pipe is only slower
                fcntl.fcntl(reading, fcntl.F_SETPIPE_SZ, _PIPE_BYTES)
            with lent(self.order.text) as text:
                process = subprocess.Popen(
                    [sys.executable, str(child_script()), json.dumps({**told(self.order, writing), "text": text})],
                    pass_fds=[writing, *([] if text is None else [text])],
                    env=environment(self.order),
                    **how,
                )
            with self._typing:
                self._process = process
                for data in self._typed_early:
                    self._feed(data)
        except BaseException:
            os.close(reading)
            raise
        finally:
            os.close(writing)
        return reading

    def _read(self, stream: int) -> None:
        """Takes in the stream until the program's process has ended and nothing is left to read."""
        process = self._process
        assert process is not None
        self._bell = os.eventfd(0, os.EFD_NONBLOCK | os.EFD_CLOEXEC)
        if self.order.max_seconds:
            self._deadline = time.monotonic() + self.order.max_seconds + _GRACE_SECONDS
        building = threading.Thread(target=self._build, name="eelgrass-build", daemon=True)
        building.start()
        os.set_blocking(stream, False)
        ended = os.pidfd_open(process.pid)
        with selectors.DefaultSelector() as selector:
            selector.register(stream, selectors.EVENT_READ, self._take_stream)
            selector.register(ended, selectors.EVENT_READ)
            if process.stderr is not None:
                os.set_blocking(process.stderr.fileno(), False)
                selector.register(process.stderr, selectors.EVENT_READ, self._take_errors)
            selector.register(self._bell, selectors.EVENT_READ, self._take_bell)
            over = False
            while not over:
                self._end_if_due(process)
                for key, _ in selector.select(self._patience()):
                    if key.data is None:
                        over = True
                    elif not key.data(key.fd):
                        selector.unregister(key.fileobj)
        if self._own_session:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(process.pid, signal.SIGKILL)  # what the program has started ends with it
        while self._take_stream(stream):
            pass
        os.close(stream)
        os.close(ended)
        bell, self._bell = self._bell, -1
        os.close(bell)
        self.returncode = process.wait()
        if process.stderr is not None:
            while self._take_errors(process.stderr.fileno()):
                pass
            process.stderr.close()
        self.end_input()
        self._end_scratch()
        self._arrived.put(None)
        building.join()
        self._conclude()
        self._on_end(self._builder.trace())

    def _end_scratch(self) -> None:
        if self._scratch is not None:
            self._builder.case["written"] = self._scratch.written()
            self._scratch.remove()

    def _take_stream(self, fd: int) -> bool:
        """Reads what is there; False at the end of the stream, or when nothing is there."""
        data = _read_some(fd)
        if data and self._broken is None:
            try:
                for block in self._blocks.feed(data):
                    self._note_waiting(block[0] == wire.WAITING)
                    self._arrived.put(block)
            except wire.StreamError as error:
                self._broken = str(error)
        return bool(data)

    def _note_waiting(self, waits: bool) -> None:
        if self._waiting_since is not None:
            self._waited += time.monotonic() - self._waiting_since
        self._waiting_since = time.monotonic() if waits else None

    def _take_bell(self, fd: int) -> bool:
        os.eventfd_read(fd)
        return True

    def _patience(self) -> float | None:
        """Seconds until something has to be done, whether or not anything happens; None for ever."""
        due = self._due() if self._asked_at is None else self._asked_at + _GRACE_SECONDS
        return None if due is None else max(due - time.monotonic(), 0.0)

    def _due(self) -> float | None:
        """When the program will have run, or waited, for too long."""
        most = self.order.max_waiting_seconds
        if self._waiting_since is not None:
            return self._waiting_since + most if most else None
        return None if self._deadline is None else self._deadline + self._waited

    def _end_if_due(self, process: subprocess.Popen[bytes]) -> None:
        """Asks the program to end, once it should; ends it when it has been asked in vain."""
        now, due = time.monotonic(), self._due()
        late = due is not None and now >= due
        if self._asked_at is None and (self._stopped_by_person or late):
            self._too_late = self._sentence() if late and not self._stopped_by_person else None
            self._asked_at = now
            process.send_signal(ASK_SIGNAL)
        elif self._asked_at is not None and now >= self._asked_at + _GRACE_SECONDS:
            self._asked_at = now
            if self._own_session:
                os.killpg(process.pid, signal.SIGKILL)
            else:
                process.kill()

    def _sentence(self) -> str:
        """Why a program is stopped that is late."""
        if self._waiting_since is not None:
            most = f"{self.order.max_waiting_seconds:g} seconds"
            return f"The run was stopped because it waited for input for more than {most}."
        return f"The run was stopped because it took longer than {self.order.max_seconds:g} seconds."

    def _build(self) -> None:
        """On a thread of its own, so that the program does not have to wait while columns are made of what it did."""
        while (block := self._arrived.get()) is not None:
            if self._broken is None:
                try:
                    self._take_block(*block)
                except StreamError as error:
                    self._broken = str(error)
                except Exception as error:
                    # An error of ours: the run must still come to its end, and be told of.
                    traceback.print_exc()
                    self._broken = f"Eelgrass failed to make a recording of what the program did ({error})."

    def _take_errors(self, fd: int) -> bool:
        data = _read_some(fd)
        self._errors = (self._errors + data)[-_KEPT_ERROR_BYTES:]
        return bool(data)

    def _take_block(self, kind: int, payload: bytes) -> None:
        if kind == wire.MODULE:
            self._builder.module(payload)
        elif kind == wire.CHUNK:
            self._builder.chunk(payload)
            self._tell_progress()
        elif kind == wire.WAITING:
            self._on_waiting(self._builder.trace(waiting=True))
        elif kind == wire.ENDED:
            self._builder.ended(payload)
            self._ended = True

    def _tell_progress(self) -> None:
        steps = self._builder.steps_so_far
        if self._on_progress is not None and steps > _MORE * self._told_steps:
            self._told_steps = steps
            self._on_progress(self._builder.trace())

    def _conclude(self) -> None:
        """Makes an outcome where the child could not tell one, and puts the process's own status into it."""
        code = self.returncode or 0
        status = STOPPED if self._stopped_by_person else 128 - code if code < 0 else code
        if self._broken is not None:
            self._builder.outcome = Outcome("stopped", self._broken, status)
        elif self._stopped_by_person:
            self._builder.outcome = Outcome("stopped", "You stopped the run.", STOPPED)
        elif self._too_late is not None:
            self._builder.outcome = Outcome("stopped", self._too_late, STOPPED)
        elif not self._ended and not self._builder.program.modules:
            said = self._errors.decode("utf-8", "replace").strip().rpartition("\n")[2]
            self._builder.outcome = Outcome("stopped", f"The program could not be started. {said}".strip(), status)
        elif not self._ended:
            reason = _untold_end(code)
            self._builder.outcome = Outcome("stopped" if code < 0 else "exited", reason, status)
        else:
            self._builder.outcome = replace(self._builder.outcome, exit_status=status)


def _untold_end(code: int) -> str:
    if code < 0:
        name = signal.Signals(-code).name if -code in set(signal.Signals) else f"signal {-code}"
        return f"The program's process was ended from outside or by a crash ({name})."
    return "The program ended its own process without letting Python finish."


def _read_some(fd: int) -> bytes:
    try:
        return os.read(fd, _READ_BYTES)
    except BlockingIOError:
        return b""


def _case(order: Order) -> dict[str, Any]:
    program = str(order.program) if order.program else None
    case = {"program": program, "module": order.module, "arguments": list(order.arguments), "seed": order.seed}
    return {**case, "open_libraries": list(order.open_libraries)} if order.open_libraries else case
