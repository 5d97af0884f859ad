"""A loop, while it is woven."""

from __future__ import annotations

import ast


class Loop:
    """A loop being woven. `header` is the point to append wherever a pass of a `for` ends; `blocks` how many blocks
    stand around inside of it that do something on the way out; `untold` has, if need be, the frames in which a
    `continue` on its way through these has left the header untold."""

    def __init__(self, header: int | None) -> None:
        self.header = header
        self.blocks = 0
        self.untold: ast.expr | None = None
