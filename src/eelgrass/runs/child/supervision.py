"""Watching a child: started, late, asked to end, gone. Runs and side runs share it."""

from __future__ import annotations

import contextlib
import os
import selectors
import signal
import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from eelgrass.recorder import wire
from eelgrass.runs.child.child_process import ASK_SIGNAL, INSIST_SIGNAL, Child
from eelgrass.runs.child.quiet import Quiet

#: So long a child that has been asked may take until it is asked more firmly, and then until it is ended unasked.
GRACE_SECONDS = 0.7
_WAYS_TO_ASK = (ASK_SIGNAL, INSIST_SIGNAL)
_READ_BYTES = 1 << 20
_KEPT_ERROR_BYTES, _KEPT_OUTPUT_BYTES = 1 << 16, 1 << 26
#: So long after the end of the child whatever else still writes to its stream is listened to.
_DRAIN_SECONDS = 1.0
#: So often it is looked whether something is wrong that nobody tells of.
_LOOK_SECONDS = 2.0
#: After looking, so many times as long as it took passes until it is looked again.
_SHARE = 20

#: Takes a block of the stream, on the thread that watches; gives whether more are wanted.
TakeBlock = Callable[[int, bytes], bool]


@dataclass(frozen=True)
class Patience:
    """How long a child may take: wall time without waiting for input, and for each line of input, in seconds (0: for
    ever). One that is late, or to be stopped, is asked to end first if it is `asked`; one that is quiet is asked what
    it has by now, if it `tells`. While there is no room for more, by `has_room`, nothing of the stream is read until
    somebody calls `wake`. What is wrong otherwise, by `trouble`, in a sentence, ends it."""

    max_seconds: float = 0.0
    max_waiting_seconds: float = 0.0
    asked: bool = True
    tells: bool = False
    has_room: Callable[[], bool] = lambda: True
    trouble: Callable[[], str] = lambda: ""


class Supervision:
    """Watches one child. `owns_group` says that its process group is its own, so that all it has started ends with it.

    Known when `watch` is over: `returncode`; `broken`, what is wrong with its stream (None: nothing); `errors`, the end
    of what it wrote to standard error, and `output`, the beginning of what it wrote to standard output, where these are
    pipes; `late`, what it was at for too long, if it was stopped for that.
    """

    def __init__(self, child: Child, take: TakeBlock, patience: Patience, owns_group: bool) -> None:
        self._process, self._stream = child.process, child.stream
        self._take = take
        self._limits = patience
        self._owns_group = owns_group
        self._blocks = wire.Blocks()
        self._bell = os.eventfd(0, os.EFD_NONBLOCK | os.EFD_CLOEXEC)
        self._is_unwanted = False
        self._waiting_since: float | None = None
        self._waited = 0.0
        self._deadline = time.monotonic() + patience.max_seconds if patience.max_seconds else None
        self._asked_at: float | None = None  # when it was asked the last time
        self._quiet = Quiet(child.process) if patience.tells else None
        self._firmer = list(_WAYS_TO_ASK if patience.asked else ())
        self.returncode: int | None = None
        self.broken: str | None = None
        self.errors = b""
        self._output = bytearray()
        self._next_look = time.monotonic() + _LOOK_SECONDS
        self._is_read = True  # while there is room for what it tells
        self.late: Literal["running", "waiting"] | None = None

    def stop(self) -> None:
        """Has the child ended, from any thread."""
        self._is_unwanted = True
        self.wake()

    def wake(self) -> None:
        """There is room for more, from any thread."""
        with contextlib.suppress(OSError, ValueError):  # it may just have ended
            os.eventfd_write(self._bell, 1)

    def watch(self) -> None:
        """Blocks until the child's process has ended and nothing of its stream is left to read."""
        process, ended = self._process, os.pidfd_open(self._process.pid)
        os.set_blocking(self._stream, False)
        try:
            with selectors.DefaultSelector() as selector:
                selector.register(self._stream, selectors.EVENT_READ, self._take_stream)
                selector.register(ended, selectors.EVENT_READ)
                for pipe, take in ((process.stderr, self._take_errors), (process.stdout, self._take_output)):
                    if pipe is not None:
                        os.set_blocking(pipe.fileno(), False)
                        selector.register(pipe, selectors.EVENT_READ, take)
                selector.register(self._bell, selectors.EVENT_READ, self._take_bell)
                self._watch(selector)
        finally:
            self._end(ended)

    def _watch(self, selector: selectors.BaseSelector) -> None:
        is_open = True
        while True:
            self._end_if_due()
            self._look()
            if is_open and self._is_read != self._limits.has_room():
                self._is_read = not self._is_read
                if self._is_read:
                    selector.register(self._stream, selectors.EVENT_READ, self._take_stream)
                else:
                    selector.unregister(self._stream)
            if self._quiet is not None and self._listens:
                self._quiet.ask_if_due()
            for key, _ in selector.select(self._patience()):
                if key.data is None:
                    return
                if not key.data(key.fd):
                    selector.unregister(key.fileobj)
                    if key.data == self._take_stream:
                        self._quiet, is_open = None, False  # nobody hears any more

    @property
    def _listens(self) -> bool:
        """Whether what the child would tell by now would be heard, and it is not for its input that it is quiet."""
        return self._waiting_since is None and self._is_read

    def _look(self) -> None:
        """Whether something is wrong that nobody tells of."""
        now = time.monotonic()
        if now < self._next_look:
            return
        trouble = self._limits.trouble() if self.broken is None else ""
        if trouble:
            self.broken, self._is_unwanted = trouble, True
        took = time.monotonic() - now
        self._next_look = now + max(_LOOK_SECONDS, _SHARE * took)

    def _end(self, ended: int) -> None:
        """Whatever is left of the child is ended, and what it has said until then taken in."""
        process = self._process
        if self._owns_group:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(process.pid, signal.SIGKILL)  # what the program has started ends with it
        elif process.poll() is None:
            process.kill()
        until = time.monotonic() + _DRAIN_SECONDS
        while time.monotonic() < until and self._take_stream(self._stream):
            pass
        os.close(self._stream)
        os.close(ended)
        bell, self._bell = self._bell, -1
        os.close(bell)
        self.returncode = process.wait()
        for pipe, take in ((process.stderr, self._take_errors), (process.stdout, self._take_output)):
            if pipe is not None:
                while time.monotonic() < until and take(pipe.fileno()):
                    pass
                pipe.close()

    @property
    def output(self) -> bytes:
        """What it wrote to standard output, where that is a pipe."""
        return bytes(self._output)

    # What it says

    def _take_stream(self, fd: int) -> bool:
        """Reads what is there; False at the end of the stream, or when nothing is there."""
        data = _read_some(fd)
        if data and self._quiet is not None:
            self._quiet.end()
        if data and self.broken is None:
            try:
                for kind, payload in self._blocks.feed(data):
                    if kind != wire.HEARD:
                        self._note_waiting(kind == wire.WAITING)
                    if not self._take(kind, payload):
                        self._is_unwanted = True
            except wire.StreamError as error:
                self.broken = str(error)
        return bool(data)

    def _note_waiting(self, waits: bool) -> None:
        if self._waiting_since is not None:
            self._waited += time.monotonic() - self._waiting_since
        self._waiting_since = time.monotonic() if waits else None

    def _take_errors(self, fd: int) -> bool:
        data = _read_some(fd)
        self.errors = (self.errors + data)[-_KEPT_ERROR_BYTES:]
        return bool(data)

    def _take_output(self, fd: int) -> bool:
        data = _read_some(fd)
        self._output += data[: max(_KEPT_OUTPUT_BYTES - len(self._output), 0)]
        return bool(data)

    def _take_bell(self, fd: int) -> bool:
        os.eventfd_read(fd)
        return True

    # How long it takes

    def _patience(self) -> float:
        """Seconds until something has to be done, whether or not anything happens."""
        due = self._due() if self._asked_at is None else self._asked_at + GRACE_SECONDS
        asked = self._quiet.due if self._quiet is not None and self._listens else None
        all_due = (its for its in (due, asked, self._next_look) if its is not None)
        return max(min(all_due) - time.monotonic(), 0.0)

    def _due(self) -> float | None:
        """When the program will have run, or waited, for too long."""
        most = self._limits.max_waiting_seconds
        if self._waiting_since is not None:
            return self._waiting_since + most if most else None
        return None if self._deadline is None else self._deadline + self._waited

    def _end_if_due(self) -> None:
        """Asks the program to end, once it should; ends it when it has been asked in vain, or is not to be asked."""
        now, due = time.monotonic(), self._due()
        is_late = due is not None and now >= due
        if self._asked_at is None and (self._is_unwanted or is_late):
            if is_late and not self._is_unwanted:
                self.late = "running" if self._waiting_since is None else "waiting"
            self._ask(now)
        elif self._asked_at is not None and now >= self._asked_at + GRACE_SECONDS:
            self._ask(now)

    def _ask(self, now: float) -> None:
        self._asked_at = now
        if self._firmer:
            self._process.send_signal(self._firmer.pop(0))
        else:
            self._kill()

    def _kill(self) -> None:
        if self._owns_group:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(self._process.pid, signal.SIGKILL)
        else:
            self._process.kill()


def _read_some(fd: int) -> bytes:
    try:
        return os.read(fd, _READ_BYTES)
    except BlockingIOError:
        return b""
