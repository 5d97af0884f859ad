"""One recorded run, seen from the parent: a child process and the recording that grows from its stream."""

from __future__ import annotations

import contextlib
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterable
from dataclasses import replace
from typing import IO, Any, Literal

from eelgrass.recorder import wire
from eelgrass.runs.case import case_of
from eelgrass.runs.child import descendants
from eelgrass.runs.child.arrived_blocks import ArrivedBlocks
from eelgrass.runs.child.child_process import start_child
from eelgrass.runs.child.memory import resident_mib
from eelgrass.runs.child.room import Room
from eelgrass.runs.child.scratch import Scratch
from eelgrass.runs.child.supervision import GRACE_SECONDS, Patience, Supervision
from eelgrass.runs.order import CannotRunError, Order, check_text
from eelgrass.runs.pythons.interpreters import interpreter
from eelgrass.trace.building.builder import Builder
from eelgrass.trace.building.stream import StreamError
from eelgrass.trace.model import Outcome, Trace

#: Exit status of a run that a limit or the person stopped.
STOPPED = 3
#: What a confined program tells otherwise than in events, as that of a module, has at most so many bytes: JSON takes
#: twenty times as much in memory.
_MOST_JSON_BYTES = 1 << 25
#: When so many blocks, or bytes in them, wait to be built, the program has to wait after all.
_MOST_UNBUILT_BLOCKS, _MOST_UNBUILT_BYTES = 512, 1 << 26
#: So long after the person has stopped the program what it told before is still built.
_BUILD_SECONDS = 0.4

#: So many steps are worth telling of before the end; then the recording has to have grown so many times.
_FEWEST, _MORE = 1000, 4
#: Of what a recording may take in all, so much may be taken before it is looked at more closely.
_SHARE_OF_MEMORY, _MUCH_BYTES = 0.75, 1 << 25
#: After telling of a quiet run, so many times as long passes until it is told of again.
_SHARE = 10

#: Called from a thread of the run with the recording so far.
Listener = Callable[[Trace], None]


class Run:
    """A run on its way. Nothing here blocks the caller but `record` and `wait`.

    `on_waiting` is called when the program waits for input, `on_going` when it has what it waited for, `on_progress`
    when the first `_FEWEST` steps have arrived and again whenever there are `_MORE` times as many, `on_quiet` when
    there is more and nothing else is heard of the program, which sleeps, waits or does little, `on_end` once, when the
    recording is complete; all from threads of the run's own. If it `keeps_output`, that is `output` in the end.
    """

    def __init__(
        self,
        order: Order,
        on_waiting: Listener | None = None,
        on_progress: Listener | None = None,
        on_end: Listener | None = None,
        on_quiet: Listener | None = None,
        on_going: Callable[[], None] | None = None,
        keeps_output: bool = False,
    ) -> None:
        self.order = order
        self.output = ""  # what the process wrote to standard output, whatever its recording says
        self._keeps_output = keeps_output
        self.returncode: int | None = None
        self.ended_by = 0
        self.wants_more = False  # than a line of input, since it waits
        self._on_waiting = on_waiting
        self._on_progress, self._on_quiet = on_progress, on_quiet
        self._on_going = on_going or (lambda: None)
        self._reads_before = -1  # how often it had read when it began to wait for input; -1 while it does not
        self._told_steps = _FEWEST // _MORE
        self._quiet_told: tuple[tuple[int, int], float] = (0, 0), 0.0  # how much, and not again before
        self._on_end = on_end or (lambda _trace: None)
        self._builder = Builder(case_of(order), order.max_steps)
        self._ended = False
        self._stopped_by_person = False
        self._broken: str | None = None
        self._process: subprocess.Popen[bytes] | None = None
        self._arrived = ArrivedBlocks()
        self._arrived_bytes = self._built_bytes = 0
        self._is_full, self._stopped_at = False, 0.0
        self._memory_before = resident_mib()
        self._thread: threading.Thread | None = None
        self._supervision: Supervision | None = None
        self._typing = threading.RLock()
        self._typed_early: list[bytes | None] = []
        self._own_session = self._in_place = False
        self._room = Room()

    # For a window: the program talks to us

    def start(self, in_place: bool = False) -> None:
        """Starts the program in a session of its own and in a copy of its folder (or, where that is a copy already,
        `in_place`), with its input and output in our hands. Where no copy or no process can be had, the run ends at
        once, and its outcome says why.

        Raises CannotRunError when its text does not compile; what another Python than ours makes of it, the run tells.
        """
        if self.order.program is not None and interpreter(self.order.python).reads_as_ours:
            check_text(self.order.program, self.order.text)
        self._own_session = True
        self._in_place = in_place
        self._thread = threading.Thread(target=self._run_apart, name="eelgrass-run", daemon=True)
        self._thread.start()

    def _run_apart(self) -> None:
        """On the run's own thread, since copying a folder may take a while. However it goes, the run comes to an end
        that is told of."""
        try:
            self._run_in_copy()
        except Exception as error:
            self._note_failure(error)
            self._leave_room()
            self._conclude(self._supervision)
            self._on_end(self._builder.trace())

    def _note_failure(self, error: Exception) -> None:
        """An error of ours: the run must still come to its end, and be told of."""
        sys.excepthook(type(error), error, error.__traceback__)
        self._broken = f"Eelgrass failed to make a recording of what the program did ({error})."

    def _run_in_copy(self) -> None:
        try:
            folder = self.order.program.resolve().parent if self.order.program is not None else None
            self._room = Room(folder, None if folder is None or self._in_place else Scratch(folder))
            self._spawn(
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE if self._keeps_output else subprocess.DEVNULL,
                stderr=subprocess.PIPE,
                start_new_session=True,
            )
        except (CannotRunError, OSError, ValueError) as error:
            self._leave_room()
            self._broken = f"It cannot be run: {error.strerror}." if isinstance(error, OSError) else str(error)
            self._conclude(None)
            self._on_end(self._builder.trace())
            return
        self._read()

    def type_line(self, line: str) -> None:
        """Gives the program one line of input."""
        self._feed(line.encode("utf-8", "surrogateescape") + b"\n")

    def end_input(self) -> None:
        """Tells the program that there is no more input."""
        self._feed(None)

    def fed(self, lines: Iterable[str]) -> Trace:
        """Gives the program lines of input and says that there are no more. Blocks until it has ended; gives the whole
        recording."""
        for line in lines:
            self.type_line(line)
        self.end_input()
        return self.wait()

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
        with self._typing:
            self._stopped_by_person = True
            self._stopped_at = time.monotonic()
            if self._supervision is not None:
                self._supervision.stop()

    def end_for(self, reason: str) -> None:
        """Ends the program for a reason that somebody found in its recording, from any thread."""
        with self._typing:
            self._break_off(reason)

    def wait(self) -> Trace:
        """Blocks until the run has ended; gives the whole recording."""
        if self._thread is not None:
            self._thread.join()
        return self._builder.trace()

    # For a shell: the program has our standard streams

    def record(self, scratch: Scratch | None = None) -> Trace:
        """Runs the program with our own standard input, output and error, where we are or in `scratch`, and blocks
        until it has ended. When this process is asked to end meanwhile, the program is stopped, `ended_by` that
        signal."""
        self._room = Room(scratch=scratch)
        interrupt = signal.signal(signal.SIGINT, signal.SIG_IGN)  # an interrupt is the program's to answer
        before = {its: signal.signal(its, self._end_by) for its in (signal.SIGTERM, signal.SIGHUP)}
        if self.order.leave is not None:
            descendants.adopt()
        try:
            self._spawn(preexec_fn=lambda: signal.signal(signal.SIGINT, interrupt))
            self._read()
        except BaseException:
            self._leave_room()
            raise
        finally:
            signal.signal(signal.SIGINT, interrupt)
            for number, handler in before.items():
                signal.signal(number, handler)
            if self.order.leave is not None:
                descendants.end_all()
        return self._builder.trace()

    def _end_by(self, number: int, _frame: object) -> None:
        self.ended_by = number
        self.stop()

    # The child

    def _spawn(self, **how: Any) -> None:
        """Starts the child, and whoever watches it. Raises OSError and ValueError."""
        child = start_child(self.order, self._room, is_watched=self._on_quiet is not None, **how)
        most = self.order.max_seconds + GRACE_SECONDS if self.order.max_seconds else 0.0
        patience = Patience(most, self.order.max_waiting_seconds, tells=True, has_room=self._has_room)
        if self.order.leave is not None:
            patience = replace(patience, trouble=self._room.trouble)
        with self._typing:
            self._process = child.process
            self._supervision = Supervision(child, self._take_arrived, patience, self._own_session)
            if self._stopped_by_person:
                self._supervision.stop()
            for data in self._typed_early:
                self._feed(data)

    def _read(self) -> None:
        """Takes in the stream until the program's process has ended and nothing is left to read."""
        supervision = self._supervision
        assert supervision is not None
        building = threading.Thread(target=self._build, name="eelgrass-build", daemon=True)
        building.start()
        try:
            supervision.watch()
        finally:
            self._arrived.put(None)
            building.join()
        self.returncode = supervision.returncode
        self.output = supervision.output.decode("utf-8", "replace")
        self._broken = self._broken or supervision.broken
        self.end_input()
        self._leave_room()
        self._conclude(supervision)
        self._on_end(self._builder.trace())

    def _take_arrived(self, kind: int, payload: bytes) -> bool:
        if kind == wire.WAITING and self._on_waiting is None:
            return True  # nobody needs what there is by now at each line of input
        self._arrived_bytes += len(payload)
        self._arrived.put((kind, payload))
        return True

    def _has_room(self) -> bool:
        unbuilt = self._arrived_bytes - self._built_bytes
        self._is_full = len(self._arrived) > _MOST_UNBUILT_BLOCKS or unbuilt > _MOST_UNBUILT_BYTES
        return not self._is_full

    def _leave_room(self) -> None:
        room, self._room = self._room, Room()
        try:
            if room.scratch is not None:
                self._builder.case["written"] = room.written()
        finally:
            room.remove()

    def _late(self, late: Literal["running", "waiting"]) -> str:
        """Why a program is stopped that is late."""
        if late == "waiting":
            most = f"{self.order.max_waiting_seconds:g} seconds"
            return f"The run was stopped because it waited for input for more than {most}."
        return f"The run was stopped because it took longer than {self.order.max_seconds:g} seconds."

    def _build(self) -> None:
        """On a thread of its own, so that the program need not wait while columns are made of what it did."""
        while (block := self._arrived.take()) is not None:
            if self._broken is None and not self._is_late_to_build():
                try:
                    self._take_block(block.kind, block.payload())
                    self._watch_memory()
                except StreamError as error:
                    self._broken = str(error)
                except Exception as error:
                    self._note_failure(error)
            self._built_bytes += block.arrived
            if self._is_full and self._supervision is not None:
                self._supervision.wake()

    def _is_late_to_build(self) -> bool:
        """Whether the person has stopped the program, and waits."""
        return self._stopped_at > 0 and time.monotonic() > self._stopped_at + _BUILD_SECONDS + 2 * GRACE_SECONDS

    def _watch_memory(self) -> None:
        """A program that forges what it tells is not to fill the memory with it; nor is one that is recorded."""
        most = self.order.max_recording_mib * _SHARE_OF_MEMORY
        if self.order.leave is None or not most or self._built_bytes < _MUCH_BYTES:
            return  # it may be another run that takes the memory
        if resident_mib() > self._memory_before + most:
            self._break_off(f"The run was stopped because its recording took more than {most:,.0f} MiB of memory.")

    def _take_block(self, kind: int, payload: bytes) -> None:
        if self.order.leave is not None and kind != wire.CHUNK and len(payload) > _MOST_JSON_BYTES:
            raise StreamError("The recorded program's event stream holds a block that is too large.")
        if kind == wire.MODULE:
            self._builder.module(payload)
        elif kind == wire.CHUNK:
            self._builder.chunk(payload)
            if self._reads_before >= 0 and self._builder.reads_so_far > self._reads_before:
                self._reads_before = -1  # not at the sign of life of another thread
                self._on_going()
            self._tell_progress()
        elif kind == wire.WAITING:
            self._reads_before, self.wants_more = self._builder.reads_so_far, b"true" in payload
            if self._on_waiting is not None:
                self._on_waiting(self._builder.trace(waiting=True))
        elif kind == wire.ENDED:
            self._builder.ended(payload)
            self._ended = True
        elif kind == wire.ANSWER:
            self._on_answer()
        elif kind == wire.HEARD:
            self._tell_of_quiet()

    def _on_answer(self) -> None:
        """A place has been reached that was waited for."""

    def _break_off(self, reason: str) -> None:
        """Ends the program, for a reason of ours."""
        self._broken = reason
        if self._supervision is not None:
            self._supervision.stop()

    def _tell_progress(self) -> None:
        steps = self._builder.steps_so_far
        if self._on_progress is not None and steps > _MORE * self._told_steps:
            self._told_steps = steps
            self._on_progress(self._builder.trace())

    def _tell_of_quiet(self) -> None:
        """The program is quiet: all that it has done by now is here. Telling takes a tenth of the time at most."""
        told = self._builder.steps_so_far, self._builder.pieces_so_far
        began = time.monotonic()
        if self._on_quiet is not None and began >= self._quiet_told[1] and told != self._quiet_told[0]:
            self._on_quiet(self._builder.trace())
            now = time.monotonic()
            self._quiet_told = told, now + _SHARE * (now - began)

    def _conclude(self, supervision: Supervision | None) -> None:
        """Makes an outcome where the child could not tell one, and puts the process's own status into it."""
        code = self.returncode or 0
        status = STOPPED if self._stopped_by_person else 128 - code if code < 0 else code
        if self._broken is not None:
            self._builder.outcome = Outcome("stopped", self._broken, status)
        elif self._stopped_by_person:
            self._builder.outcome = Outcome("stopped", "You stopped the run.", STOPPED)
        elif supervision is not None and supervision.late is not None:
            limit = "max_seconds" if supervision.late == "running" else "max_waiting_seconds"
            self._builder.outcome = Outcome("stopped", self._late(supervision.late), STOPPED, limit=limit)
        elif not self._ended and not self._builder.program.modules:
            errors = supervision.errors if supervision is not None else b""
            said = errors.decode("utf-8", "replace").strip().rpartition("\n")[2]
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
