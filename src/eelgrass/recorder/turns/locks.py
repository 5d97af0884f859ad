"""Locks of a program whose threads take turns: those of the interpreter, but that whoever waits lets others go on.

All else that threads wait for (conditions, events, queues, semaphores, barriers, the ends of threads) is made of these
two by the standard library.
"""

from __future__ import annotations

from _thread import allocate_lock, get_ident
from typing import Any, ClassVar

from eelgrass.recorder.turns.turn_taking import TurnTaking

_plain_lock = allocate_lock


def _check(blocking: Any, timeout: Any) -> None:
    """Refuses what the interpreter's own locks do, as they do."""
    _plain_lock().acquire(blocking, timeout)


class Lock:
    """Stands in for the interpreter's `lock`. Those of a process take `turns`."""

    __slots__ = ("__weakref__", "_its")
    turns: ClassVar[TurnTaking]

    def __init__(self) -> None:
        self._its = _plain_lock()

    def acquire(self, blocking: Any = True, timeout: Any = -1) -> bool:
        its = self._its
        if blocking is not True or timeout != -1:
            _check(blocking, timeout)
        if its.acquire(False):
            return True
        if not blocking:
            return False
        got = self.turns.wait(self, None if timeout < 0 else timeout, lambda: its.acquire(False))
        return got or (self.turns.is_free and its.acquire(blocking, timeout))

    def release(self) -> None:
        self._its.release()
        self.turns.released(self)

    def locked(self) -> bool:
        return self._its.locked()

    def __enter__(self) -> bool:
        return self.acquire()

    def __exit__(self, *_of_error: object) -> None:
        self.release()

    def _at_fork_reinit(self) -> None:
        self._its = _plain_lock()

    def __repr__(self) -> str:
        return repr(self._its).rpartition(" at ")[0] + f" at {id(self):#x}>"

    acquire_lock, release_lock, locked_lock = acquire, release, locked


class RLock:
    """Stands in for the interpreter's."""

    __slots__ = ("__weakref__", "_block", "_count", "_owner")

    def __init__(self) -> None:
        self._block, self._owner, self._count = Lock(), 0, 0

    def acquire(self, blocking: Any = True, timeout: Any = -1) -> bool:
        me = get_ident()
        if self._owner == me:
            _check(blocking, timeout)
            self._count += 1
            return True
        got = self._block.acquire(blocking, timeout)
        if got:
            self._owner, self._count = me, 1
        return got

    def release(self) -> None:
        if self._owner != get_ident():
            raise RuntimeError("cannot release un-acquired lock")
        self._count -= 1
        if not self._count:
            self._owner = 0
            self._block.release()

    def __enter__(self) -> bool:
        return self.acquire()

    def __exit__(self, *_of_error: object) -> None:
        self.release()

    def _is_owned(self) -> bool:
        return self._owner == get_ident()

    def _recursion_count(self) -> int:
        return self._count if self._is_owned() else 0

    def _release_save(self) -> tuple[int, int]:
        if not self._count:
            raise RuntimeError("cannot release un-acquired lock")
        saved = self._count, self._owner
        self._count = self._owner = 0
        self._block.release()
        return saved

    def _acquire_restore(self, saved: tuple[int, int]) -> None:
        self._block.acquire()
        self._count, self._owner = saved

    def _at_fork_reinit(self) -> None:
        self._block._at_fork_reinit()
        self._owner = self._count = 0

    def __repr__(self) -> str:
        state = "locked" if self._block.locked() else "unlocked"
        return f"<{state} _thread.RLock object owner={self._owner} count={self._count} at {id(self):#x}>"


Lock.__name__ = "lock"
for _type in (Lock, RLock):
    _type.__module__, _type.__qualname__ = "_thread", _type.__name__
