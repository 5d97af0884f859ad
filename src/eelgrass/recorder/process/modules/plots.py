"""Plots: a figure that the program shows is drawn into the recording, where a plain run would open a window.

The plotting package's own drawing without a window is used (its `agg`), unless the program, or `MPLBACKEND`, asks for
another. What shows figures is given more to do when its module is loaded; no other module is touched.
"""

from __future__ import annotations

import os
from binascii import b2a_base64
from collections.abc import Callable
from importlib.machinery import SourceFileLoader
from types import CodeType
from typing import Any

_CHOOSING, _SHOWING = "matplotlib", "matplotlib.pyplot"
#: The modules whose text gets an ending of ours.
MODULES = (_CHOOSING, _SHOWING)
_MARK = "eelgrass: showing"
_ENDINGS = {_CHOOSING: "use('agg')", _SHOWING: f"show = ['{_MARK}'][0](show, close)"}
#: So many pictures are kept of a run, and none that takes more bytes.
_MOST_PICTURES, _MOST_BYTES = 100, 1 << 21


def ended_code(loader: SourceFileLoader, tell: Callable[[str], None], name: str) -> CodeType:
    """The code of one of `MODULES`, with its ending. `tell` takes a picture, as the base 64 text of a PNG."""
    source = loader.get_data(loader.path)
    if name == _SHOWING or not os.environ.get("MPLBACKEND"):
        source += f"\n{_ENDINGS[name]}\n".encode()
    code = compile(source, loader.path, "exec", dont_inherit=True)
    showing = _Showing(tell)
    constants = tuple(showing if part == _MARK else part for part in code.co_consts)
    return code.replace(co_consts=constants)


class _Showing:
    """Makes the package's `show` tell the figures that it shows."""

    def __init__(self, tell: Callable[[str], None]) -> None:
        self._tell = tell
        self._left = _MOST_PICTURES

    def __call__(self, plain: Callable[..., Any], close: Callable[[str], None]) -> Callable[..., Any]:
        def show(*args: Any, **kwargs: Any) -> Any:
            module = plain.__globals__
            if "_pylab_helpers" not in module:  # another build than those known here
                return plain(*args, **kwargs)
            managers = module["_pylab_helpers"].Gcf.get_all_fig_managers()
            is_windowless = module["matplotlib"].get_backend().lower() == "agg"
            for manager in managers:
                self._draw(manager.canvas)
            if not is_windowless:
                return plain(*args, **kwargs)
            if managers and kwargs.get("block", args[0] if args else None) is not False:
                close("all")  # as the person does, whom a plain run waits for
            return None

        show.__name__, show.__qualname__ = plain.__name__, plain.__qualname__
        show.__module__, show.__doc__ = plain.__module__, plain.__doc__
        return show

    def _draw(self, canvas: Any) -> None:
        from io import BytesIO  # which the package has loaded by now

        if self._left <= 0:
            return
        self._left -= 1
        room = BytesIO()
        canvas.print_figure(room, format="png")
        if room.tell() <= _MOST_BYTES:
            self._tell(b2a_base64(room.getvalue(), newline=False).decode())
