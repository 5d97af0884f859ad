"""The hooks that woven text calls, by the names under which `weave` knows them."""

from __future__ import annotations

import json
import os
from _thread import get_ident
from collections.abc import Callable
from itertools import chain, islice
from sys import exc_info
from typing import Any

from eelgrass.recorder.contract import EVENT, FIELD, MARK, OUR_FILES, UNTOLD
from eelgrass.recorder.hooks.causes import Causes, PlainOutside
from eelgrass.recorder.hooks.changes.changes import Changes
from eelgrass.recorder.hooks.changes.leading import Leading
from eelgrass.recorder.hooks.frames import Frames
from eelgrass.recorder.hooks.generators import Generators
from eelgrass.recorder.hooks.hiding import Tracers
from eelgrass.recorder.hooks.inner_frames import InnerFrames
from eelgrass.recorder.hooks.log import Log, Taken
from eelgrass.recorder.hooks.threads import Threads
from eelgrass.recorder.packing import IS_COMPILED

if IS_COMPILED:
    from eelgrass.recorder.hooks import outside, roomy

#: The hooks that look first at which thread calls them; where statements begin, woven text looks itself.
_CHECKED = (
    *("tell", "bear", "leave", "noted", "passed", "entered", "skipped", "caught", "unwind", "left", "begin_owner"),
    *("flushed", "field_told", "names_changed", "item_deleted", "item_deleted_held", "look_again"),
    *("item_set", "item_set_held", "field_set", "changed", "augmented", "called", "handed", "reached"),
    *("grown", "opened", "field_grown", "escaping", "class_made"),
    *("item_augmented", "item_augmented_held", "field_set_augmented"),
)


class Hooks:
    """The recorder's state in the child. `hand_over` and `frames_below` are those of `Log` and `Frames`; woven
    text hands the lists over when they hold more than `full` events."""

    def __init__(
        self, hand_over: Callable[[Taken], None], frames_below: int, full: int, events: list[int] | None = None
    ) -> None:
        self.log = Log(hand_over, events)
        self.frames = Frames(self.log, frames_below, full, self.flush)
        self.causes = Causes(self.log)
        self.outside = outside.Outside(self.causes.called) if IS_COMPILED else PlainOutside(self.causes.called)
        self.frames.outside = self.outside
        self.generators = Generators(self.log, self.frames)
        self.inner = InnerFrames(self.log, self.frames)
        self.changes = Changes(self.log)
        self.leading = Leading(self.log, self.changes)
        self.frames.held, self.frames.look_at_held = self.changes.held.of, self.changes.look_at_held
        self._tracers = Tracers((*OUR_FILES, os.path.join(os.path.dirname(json.__file__), "")))
        self._untold: dict[str, list[int]] = {}
        #: Asked for each module, with what `Surroundings.outside` says: whether threads take turns in it.
        self.begin_turns: Callable[[str | None], bool] = lambda _outside: False
        self.threads = Threads(self.log.events, self.log.wholes)
        self._constants = self._table()
        self._checked: dict[str, Any] = {name: self.threads.checked(self._constants[name]) for name in _CHECKED}
        #: The frame that begins at the bottom next is the first of a plain run, where units of the call stack count.
        self.count_from_caller: Callable[[], None] = lambda: None
        if IS_COMPILED:
            self._make_roomy()
        else:
            self.generators.look = self.threads.look

    def _make_roomy(self) -> None:
        self._constants = roomy.roomy(self, self._constants)
        self._checked.clear()
        self.log.look = roomy.look
        self.count_from_caller = roomy.count_from_caller
        self.log.mark = roomy.EventAt
        self.frames.count_nothing()
        self.generators.once, self.generators.before_each = roomy.Once, roomy.Through
        self.generators.hook = roomy.OfOne

    def take_turns(self, turn: Callable[[], None]) -> None:
        """From now on `turn` is called before each step of what is woven."""
        self.threads.hand_over_when_full = False
        self._constants["turn"] = roomy.Asking(turn) if IS_COMPILED else turn

    def constant(self, name: str) -> Any:
        """What stands in woven text for a name. A text that only looks like one of ours stands for itself."""
        if name.startswith(FIELD):
            return self.changes.plain_type()
        if IS_COMPILED and name.startswith(EVENT) and name[len(EVENT) :].isdecimal():
            return roomy.EventAt(self.log.events, int(name[len(EVENT) :]))
        if name.startswith(UNTOLD):
            return self._untold.setdefault(name, [])
        if self.threads.are_told and name in self._checked:
            return self._checked[name]
        return self._constants.get(name, MARK + name)

    def _table(self) -> dict[str, Any]:
        log, frames, generators, changes = self.log, self.frames, self.generators, self.changes
        return {
            **{"events": log.events, "wholes": log.wholes, "texts": log.texts, "depth": frames.depth},
            **{"type": type, "int": int, "len": len, "iter": iter, "chain": chain, "islice": islice},
            **{"globals": globals, "BaseException": BaseException},
            "thread": self.threads,
            "get_ident": get_ident,
            "switched": self.threads.switched,
            "interval_set": self.threads.interval_set,
            "interval_seen": self.threads.interval_seen,
            "tell": log.tell,
            "bear": log.bear,
            **{hook: getattr(self.inner, hook) for hook in ("noted", "passed", "entered", "skipped")},
            "caught": self.caught,
            "unwind": self.unwind,
            "hold": changes.held.hold,
            "take": changes.held.take,
            "escaped": changes.patching.ways.open,
            "bottom": self.bottom,
            "flushed": self.flushed,
            "tracer": self._tracers.tracer,
            "traced_by": self._tracers.traced_by,
            **{hook: getattr(frames, hook) for hook in ("enter", "ready", "leave", "left", "limit_set", "limit_seen")},
            **{
                hook: getattr(generators, hook)
                for hook in (
                    *("begin_owner", "own", "enclosed", "begin", "suspended", "resumed", "awake", "delegating"),
                    *("ended", "begins", "asked_again", "through", "ends", "over", "within", "waits"),
                    *("goes_round", "told_late"),
                )
            },
            **{
                hook: getattr(changes, hook)
                for hook in (
                    *("item_set", "field_told", "item_set_held", "item_deleted"),
                    *("item_deleted_held", "grown", "field_set", "changed"),
                    *("augmented", "called", "handed", "names_changed", "field_augmented"),
                    *("item_augmented", "item_augmented_held", "field_set_augmented"),
                    *("reached", "field_grown", "class_made"),
                )
            },
            **{hook: getattr(self.leading, hook) for hook in ("escaping", "opened", "look_again")},
        }

    def release(self) -> None:
        """The run has ended: nothing of the program is held any longer."""
        self.changes.release()
        self.log.registry.release()

    def caught(self, point: int) -> None:
        """A handler of the program has taken an exception."""
        self.changes.interrupted(exc_info()[2])
        self.frames.caught(point)

    def unwind(self, point: int, left_follows: bool) -> None:
        """An exception ends a frame."""
        self.changes.interrupted(exc_info()[2])
        self.frames.unwind(point, left_follows)

    def flush(self) -> None:
        """The lists are full."""
        self.log.flush()
        self.threads.take_turns()
        if self.log.look is not None:
            self.log.look()

    def bottom(self) -> None:
        """A module's frame begins: compiled, here the first one's units of the call stack begin to count."""

    def flushed(self, argument: Any) -> Any:
        """What is told so far is handed on before a call that may end the process; gives the call's first argument."""
        self.log.flush()
        return argument
