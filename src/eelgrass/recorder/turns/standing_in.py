"""What the program finds in the place of the interpreter's own functions for threads, so that they take turns."""

from __future__ import annotations

import _thread
import os
import sys
import time
from collections.abc import Callable
from typing import Any

from eelgrass.recorder import wire
from eelgrass.recorder.turns.handles import Handle, Handles
from eelgrass.recorder.turns.locks import Lock, RLock
from eelgrass.recorder.turns.turn_taking import Thread, TurnTaking
from eelgrass.recorder.turns.watch import Watch


class Starting:
    """Starts threads that take turns. `hide` takes our frames out of an exception."""

    def __init__(self, turns: TurnTaking, hide: Callable[[BaseException], None]) -> None:
        self._turns, self._hide = turns, hide
        self._plain: Callable[..., int] = _thread.start_new_thread
        self._watch = Watch(turns, self._plain)

    def start_new_thread(self, function: Any, args: Any = (), kwargs: Any = None) -> int:
        """As the interpreter's own."""
        if not callable(function) or type(args) is not tuple or not (kwargs is None or type(kwargs) is dict):
            return self._plain(function, args, *([] if kwargs is None else [kwargs]))  # which refuses
        return self.start(function, args, kwargs or {})

    def start(self, function: Callable[..., Any], args: tuple[Any, ...], kwargs: dict[str, Any]) -> int:
        """Starts a thread; gives its identity. Raises RuntimeError where there can be none."""
        self._watch.begin()
        thread = self._turns.begin()
        try:
            self._plain(self._run, (thread, function, args, kwargs))
        except BaseException:
            self._turns.never_began(thread)
            raise
        return _identity(thread)

    def _run(self, thread: Thread, function: Callable[..., Any], args: tuple[Any, ...], kwargs: dict[str, Any]) -> None:
        self._turns.enter(thread)
        try:
            function(*args, **kwargs)
        except SystemExit:
            pass  # which ends a thread without a word
        except BaseException as error:
            self._hide(error)
            words: tuple[str, Any] = "Exception ignored in thread started by", function
            if sys.version_info >= (3, 13):
                words = f"{words[0]} {function!r}", None
            sys.unraisablehook(_unraisable()((type(error), error, error.__traceback__, *words)))
        finally:
            self._turns.leave(thread)


def _unraisable() -> Callable[[tuple[Any, ...]], Any]:
    """The type of what `sys.unraisablehook` is told, which has no name: one is made to be told of."""

    class Raises:
        def __del__(self) -> None:
            raise ValueError

    plain, found = sys.unraisablehook, list[Any]()
    sys.unraisablehook = lambda its: found.append(type(its))
    try:
        Raises()
    finally:
        sys.unraisablehook = plain
    its: Callable[[tuple[Any, ...]], Any] = found[0]
    return its


def stand_in(turns: TurnTaking, hide: Callable[[BaseException], None]) -> None:
    """From now on threads of the program take turns. `hide` takes our frames out of an exception."""
    Lock.turns = turns
    starting = Starting(turns, hide)
    plain_hook, plain_sleep = _thread._excepthook, time.sleep

    def excepthook(args: Any, /) -> None:
        if args.exc_value is not None:
            hide(args.exc_value)
        plain_hook(args)

    def sleep(seconds: Any, /) -> None:
        if not isinstance(seconds, (int, float)) or not 0 <= seconds < _LONGEST_SLEEP or turns.is_free:
            return plain_sleep(seconds)
        return turns.sleep(seconds)

    def get_ident() -> int:
        return _identity(turns.itself())

    def get_native_id() -> int:
        return _FIRST_NATIVE + turns.itself().number

    for its in (excepthook, get_ident, get_native_id):
        its.__module__, its.__qualname__ = "_thread", its.__name__
    names: dict[str, Any] = {
        **{"get_ident": get_ident, "get_native_id": get_native_id, "_count": lambda: len(turns.threads) - 1},
        "_get_main_thread_ident": lambda: wire.FIRST_IDENTITY,
        **{"allocate_lock": Lock, "allocate": Lock, "LockType": Lock, "RLock": RLock, "_excepthook": excepthook},
        **{"start_new_thread": starting.start_new_thread, "start_new": starting.start_new_thread},
    }
    if hasattr(_thread, "_set_sentinel"):
        names["_set_sentinel"] = _sentinels(turns)
    else:
        handles = Handles(turns, starting.start)
        names |= {"lock": Lock, "_ThreadHandle": Handle, "_make_thread_handle": handles.of}
        names |= {"start_joinable_thread": handles.start, "_shutdown": handles.wait_for_all}
    for name, its in names.items():
        if hasattr(_thread, name):
            setattr(_thread, name, its)
    time.sleep = sleep
    _stand_in_above(names)
    os.register_at_fork(after_in_child=turns.go_free)


#: What is longer, the interpreter refuses.
_LONGEST_SLEEP = 1e9
#: The main thread's number in the system, as it is told.
_FIRST_NATIVE = 20_000


def _identity(thread: Thread) -> int:
    return wire.FIRST_IDENTITY + wire.NEXT_IDENTITY * thread.number


def _sentinels(turns: TurnTaking) -> Callable[[], Any]:
    """What makes the lock that a thread gives back at its end."""

    def _set_sentinel() -> Any:
        its = Lock()

        def give_back() -> None:
            if its.locked():
                its.release()

        turns.itself().at_end.append(give_back)
        return its

    return _set_sentinel


#: What `threading` calls them, where it does so otherwise.
_THERE = {
    **{"start_new_thread": "_start_new_thread", "allocate_lock": "_allocate_lock", "RLock": "_CRLock"},
    **{"start_joinable_thread": "_start_joinable_thread", "_shutdown": "_thread_shutdown", "LockType": "_LockType"},
    **{"_excepthook": "excepthook", "lock": "Lock"},
}


def _stand_in_above(names: dict[str, Any]) -> None:
    """What was loaded before the program finds them, too."""
    threading: Any = sys.modules.get("threading")
    if threading is None:
        return
    for name, its in {**names, "lock": names["LockType"]}.items():
        there = _THERE.get(name, name)
        if hasattr(threading, there):
            setattr(threading, there, its)
    main = threading._main_thread
    threading._active.pop(main._ident, None)
    main._ident = names["get_ident"]()
    threading._active[main._ident] = main
