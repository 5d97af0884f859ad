"""One recorded run, from the order that starts it to the outcome that ends its stream."""

from __future__ import annotations

import atexit
import json
import os
import sys
import time
from _signal import ITIMER_REAL, SIG_IGN, getitimer, signal  # type: ignore  # `signal` would load `enum`
from _thread import RLock, get_ident
from importlib.machinery import SourceFileLoader
from time import perf_counter
from types import CodeType, FrameType, ModuleType
from typing import Any

from eelgrass.recorder import wire
from eelgrass.recorder.contract import OUR_FILES
from eelgrass.recorder.hooks.log import Taken
from eelgrass.recorder.hooks.table import Hooks
from eelgrass.recorder.order import ChildOrder, Desk, Ending
from eelgrass.recorder.packing import IS_COMPILED
from eelgrass.recorder.process import clock, limits, side_run, stdio, what_if
from eelgrass.recorder.process.endings import described, exit_status, hide_our_frames, last_line
from eelgrass.recorder.process.modules import concealment, imports, linked_files
from eelgrass.recorder.process.modules.compiling import encoded, source_text, woven_code
from eelgrass.recorder.process.modules.own_modules import OwnModules
from eelgrass.recorder.process.simulated import Simulated
from eelgrass.recorder.process.steering import Steering
from eelgrass.recorder.process.stops import Stops
from eelgrass.recorder.weaving.points import Points

if IS_COMPILED:
    from eelgrass.recorder.process import handlers, insisting

#: Exit status of a run that a limit or the person stopped.
STOPPED = 3
#: Our frames in these may lie below those of the program, or wait with it.
_AT_THE_BOTTOM = ("/recorder/__main__.py", "/process/call_stack.py", "/process/event_loops.py")


class ChildRun:
    """Runs a program as `python PROGRAM` does, with its text woven."""

    def __init__(self, order: ChildOrder) -> None:
        self.order = order
        self.fd = concealment.moved_away(order.fd)
        self._texts = _texts(order.texts_fd)
        self._outgoing: list[bytes | Taken] = []
        self._writing, self._is_writing, self._main = RLock(), False, get_ident()
        self._own = OwnModules(order.folder, self._texts)
        self._kinds = bytearray(range(wire.FIRST_POINT))  # by point
        self.limits = limits.Limits(order, self._kinds)
        events: list[int] | None = None
        if order.side is not None:  # which is only to come to one step, and to answer a question there
            events = Stops([order.side.step], self._kinds, self._answer, keeps=False)
        elif order.settings:
            events = Stops([its.step for its in order.settings], self._kinds, self._set, keeps=True)
        self.hooks = Hooks(self._hand_over, order.base_frames, limits.hand_over_at(order.max_steps), events)
        self._to_set = list(order.settings)
        self._settings = what_if.Settings(self.hooks) if order.settings else None
        self.hooks.log.registry.bounds.limit(order.max_elements, order.max_recording_mib)
        self._started = 0.0
        self._clock = clock.Clock(order.clock or {})
        self._simulated = Simulated(order.desk or Desk(), self.hooks, self._clock, self._switched_off)
        self._steering = Steering(order.turns, self.hooks, self._clock, self._stuck, hide_our_frames)
        self._waited = 0.0
        self._ending = Ending("finished", None, 0)
        self._seconds: float | None = None
        if order.tell_signal:
            signal(order.tell_signal, SIG_IGN)  # until there is something to tell
        self._write(wire.MAGIC)
        concealment.when_forked(self._let_go)

    def _let_go(self) -> None:
        """Nothing is told any more: the run has ended, or this is another process that the program forked off."""
        self.fd = -1
        if self.order.tell_signal and get_ident() == self._main:  # the interpreter gives up its handlers at its end
            signal(self.order.tell_signal, SIG_IGN)

    # Side runs

    def _answer(self, innermost: FrameType) -> None:
        side = self.order.side
        assert side is not None
        frame = side_run.chosen_frame(innermost, side.up, frozenset(self._texts))
        self._write(wire.block(wire.ANSWER, side_run.where(frame, self.limits.written)))
        self._write(wire.block(wire.ANSWER, side_run.answer(frame, side.expression)))
        os._exit(0)

    def _set(self, innermost: FrameType) -> None:
        """Makes the settings of a step; where one cannot be made, the run ends there."""
        assert self._settings is not None
        self.hooks.log.flush()
        self._block(wire.ANSWER, {})  # so that it can be looked at how the run came here
        step = self._to_set[0].step
        while self._to_set and self._to_set[0].step == step:
            its = self._to_set.pop(0)
            trouble = self._settings.make(side_run.chosen_frame(innermost, its.up, frozenset(self._texts)), its)
            if trouble:
                self.hooks.log.flush()
                self._stop(trouble)

    # The stream

    def _write(self, data: bytes | Taken) -> None:
        """Writes one block whole, in the order of these calls: packing already lets other threads go on. Another thread
        waits; what interrupts this one only leaves its block behind."""
        if self.fd < 0:  # in a process that was forked off, the lock may be that of a thread which is not there
            return
        self._outgoing.append(data)
        with self._writing:
            if self._is_writing:
                return
            self._is_writing = True
            try:
                while self._outgoing:
                    data = self._outgoing.pop(0)
                    self._write_now(self._packed(data) if isinstance(data, Taken) else data)
            finally:
                self._is_writing = False

    def _write_now(self, data: bytes) -> None:
        view = memoryview(data)
        while view and self.fd >= 0:
            try:
                view = view[os.write(self.fd, view) :]
            except BrokenPipeError:
                os._exit(STOPPED)  # Eelgrass has gone, and with it the reason to run
            except OSError:  # the program has closed what it did not open
                self._let_go()

    def _block(self, kind: int, content: Any) -> None:
        with self.hooks.log.undisturbed():
            self._write(wire.block(kind, json.dumps(content).encode()))

    def _hand_over(self, taken: Taken) -> None:
        if taken.events:
            self._write(taken)
            self.limits.note(taken.events)
        passed = self.limits.passed(self._started, self._waited) if self._started else None
        if passed is not None:
            limit, reason = passed
            self._stop(reason, limit)

    def _packed(self, taken: Taken) -> bytes:
        try:
            payload = wire.chunk(*taken)
        except OverflowError:
            events, wholes, texts = wire.without_wide(taken.events, taken.wholes, taken.texts, self._kinds)
            payload = wire.chunk(events, wholes, taken.floats, texts)
        return wire.block(wire.CHUNK, payload)

    def _stop(self, reason: str, limit: str = "") -> None:
        """Ends the process at once: a program that a limit stops gets no chance to catch it."""
        stdio.flush_all()
        self._end_clock()
        self._tell_ending(Ending("stopped", reason, STOPPED, limit=limit))
        os._exit(STOPPED)

    def _tell_ending(self, ending: Ending) -> None:
        kept = None if self.order.clock is None else self._clock.kept
        ending = ending._replace(seconds=self._seconds or 0.0, clock=kept, turns=self._steering.told())
        self._block(wire.ENDED, ending._asdict())

    def _end_clock(self) -> None:
        if self._seconds is None and self._started:
            self._seconds = perf_counter() - self._started - self._waited

    def _finish(self) -> None:
        """The last thing that runs at a normal end of the interpreter."""
        self.hooks.log.flush()
        self._tell_ending(self._ending)
        self._let_go()
        self.hooks.release()

    # Weaving

    def weave(self, source: bytes, file: str) -> CodeType:
        """The woven code of one module; its tables go out before any of its events can."""
        if file in self._texts:
            source = encoded(self._texts[file])
        points = Points(len(self._kinds))
        code = woven_code(source, file, points, self.hooks, self._own)
        self.hooks.outside.own(code)
        if not self._started:
            self._simulated.prepare(self._own.surroundings, self.order.desk is not None)
        self._kinds += bytes(kind for kind, *_ in points.points)
        self.hooks.log.make_codes(len(self._kinds))
        self.hooks.log.flush()
        self._block(wire.MODULE, points.as_json(file, source_text(source)))
        return code

    # Output and input

    def _written(self, channel: int, text: str) -> None:
        self.limits.written += len(text)
        most = self.limits.max_output
        if most and self.limits.written > most:
            self.hooks.log.output(channel, text[: max(len(text) - (self.limits.written - most), 0)])
            self.hooks.log.flush()
        self.hooks.log.output(channel, text)

    def _before_input(self, more: bool) -> None:
        self.hooks.log.flush()
        self._block(wire.WAITING, {"more": more})
        self._wait_began = perf_counter()

    def _after_input(self, text: str) -> None:
        self._waited += perf_counter() - self._wait_began
        self.hooks.log.input(text)
        self.hooks.log.flush()  # which says, too, that the waiting is over

    # Running

    def prepare(self) -> CodeType | None:
        """Everything up to the program's first statement, with a `__main__` of its own in `sys.modules`; gives the
        program's code, or None for a module, which is found and run as by `-m`.

        Raises what a plain run raises when the program is missing or does not compile.
        """
        order = self.order
        program, folder = order.program, order.folder
        atexit.register(self._finish)  # first in, so last out
        sys.argv[:] = [order.argv0 or "", *order.arguments]
        sys.orig_argv[1:] = [*(["-m", order.module] if order.module else [program or ""]), *order.arguments]
        sys.path[0] = folder
        seed = None if order.seed is None else order.seed % (1 << 32)
        opened = imports.Opened(frozenset(order.open_libraries), order.module)
        if order.clock is not None:
            self._clock.set_up(time)
        chance = imports.Chance(seed, self._clock)
        if order.desk is not None:
            chance = chance._replace(desk=self._simulated.set_up_desk)
        imports.weave_imports(folder, opened, self.weave, chance, self.hooks.log.picture)
        if order.module == "pytest":  # which else compiles the tests itself, from a text with assertions of its own
            os.environ["PYTEST_ADDOPTS"] = f"{os.environ.get('PYTEST_ADDOPTS', '')} --assert=plain".lstrip()
        if order.linked:
            linked_files.keep_originals(order.linked)
        if seed is not None:
            os.urandom = clock.drawn_from(seed, os.urandom)
        main = ModuleType("__main__")
        namespace = main.__dict__
        # In the order in which a plain run has them, for a program that prints its globals.
        if sys.version_info < (3, 14):  # later ones make it when it is asked for
            namespace["__annotations__"] = {}
        namespace.update(__builtins__=sys.modules["builtins"], __file__=program, __cached__=None)
        code = None
        if not order.module:
            assert program is not None
            namespace["__loader__"] = SourceFileLoader("__main__", program)
            source = b""
            if program not in self._texts:
                with open(program, "rb") as file:
                    source = file.read()
            code = self.weave(source, program)
        sys.modules["__main__"] = main
        stdio.replace_streams(
            {
                "stdin": stdio.Telling(self._after_input, self._before_input),
                "stdout": stdio.Telling(lambda text: self._written(1, text)),
                "stderr": stdio.Telling(lambda text: self._written(2, text)),
            }
        )
        if order.confinement is not None:
            from eelgrass.recorder.confinement.confine import confine  # which only those need that are confined

            confine(order.confinement)
        return code

    def _asked(self, *_of_signal: object) -> None:
        """Eelgrass asks the run to end here and now: what is told by now goes out, also what is only half a chunk."""
        self.hooks.log.interrupt(self._end_here)

    def _end_here(self) -> None:
        self.hooks.log.flush_whole(self._kinds)
        self._stop("The run was stopped.")

    def _switched_off(self) -> None:
        """The program's board was switched off, which is how such programs end."""
        self.hooks.log.flush_whole(self._kinds)
        stdio.flush_all()
        self._end_clock()
        self._tell_ending(Ending("exited", None, 0))
        os._exit(0)

    def _stuck(self) -> None:
        """No thread can ever go on, unless a signal comes."""
        if not getitimer(ITIMER_REAL)[0]:
            self.hooks.log.flush_whole(self._kinds)
            self._stop("The run was ended: every thread waits, and none can go on any more.")

    def _tell(self, _number: int, frame: FrameType | None) -> None:
        """Eelgrass asks what there is by now: the program is quiet, or slow. Not being heard, it asks again."""
        is_to_repeat = self._steering.is_on and not self.order.is_watched
        if not is_to_repeat and (IS_COMPILED or not is_ours_at_work(frame)):
            self.hooks.log.flush_so_far(self._kinds)
            self._block(wire.HEARD, {})

    def begin(self) -> None:
        """The clock starts: the program's first statement is next."""
        if self.order.ask_signal:
            signal(self.order.ask_signal, self._asked)
        if IS_COMPILED:
            handlers.keep_out_of_hooks(self.hooks.causes.signal)
        if self.order.tell_signal:
            signal(self.order.tell_signal, handlers.Between(self._tell) if IS_COMPILED else self._tell)
        if self.order.insist_signal and IS_COMPILED:
            insisting.call_when_insisted(self.order.insist_signal, self._asked)
        self._steering.close()
        self.hooks.frames.make_room()
        self._started = perf_counter()
        if self.order.module:
            self.hooks.count_from_caller()

    def end(self, error: BaseException | None) -> None:
        """The program's last statement has run, or `error` went through its module."""
        self._end_clock()
        if isinstance(error, SystemExit):
            self._ending = Ending("exited", None, exit_status(error))
        elif error is not None:
            reason = f"{described(error)}, at line {last_line(error)}."
            self._ending = Ending("raised", reason, 1)


def is_ours_at_work(frame: FrameType | None) -> bool:
    """Whether a frame is of a hook, or was called by one."""
    while frame is not None and not frame.f_code.co_filename.startswith(OUR_FILES):
        frame = frame.f_back
    return frame is not None and not frame.f_code.co_filename.endswith(_AT_THE_BOTTOM)


def _texts(fd: int) -> dict[str, str]:
    """The texts that run in place of what files hold."""
    if fd < 0:
        return {}
    with open(fd, "rb") as file:
        texts: dict[str, str] = json.loads(file.read())
    return texts
