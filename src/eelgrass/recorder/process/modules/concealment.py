"""Taking the process's own things out of the program's sight: modules, the stream's file, forked processes."""

from __future__ import annotations

import os
import sys
from collections.abc import Callable

_MADE_ANEW = frozenset(("_collections",) if sys.version_info >= (3, 12) else ())


def forget_modules(plain: frozenset[str]) -> None:
    """Takes the modules that are only here because of us out of `sys.modules`; the program imports its own. Where the
    interpreter would make the types of a module anew for it, the module stays: we have to know them."""
    for name in set(sys.modules) - plain - _MADE_ANEW:
        del sys.modules[name]


def moved_away(fd: int) -> int:
    """The same file under a number that a program's own files do not reach soon, and that no child inherits."""
    for place in (800, 400, 200):
        try:
            os.dup2(fd, place, inheritable=False)
        except OSError:
            continue
        os.close(fd)
        return place
    os.set_inheritable(fd, False)
    return fd


def when_forked(call: Callable[[], None]) -> None:
    """Calls in each process that the program forks off, before anything else of the program runs there."""
    os.register_at_fork(after_in_child=call)
