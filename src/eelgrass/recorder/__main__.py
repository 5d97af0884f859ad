"""Started by `eelgrass.runs` as a script, in a process of its own: `__main__.py ORDER`, the order being JSON."""

import sys

PLAIN = frozenset(sys.modules)  # what a plain run begins with

from _functools import partial  # type: ignore[import-not-found]  # noqa: E402
from importlib.machinery import SourceFileLoader  # noqa: E402

# What we import gets built-in names of its own: the program may give those that it sees another meaning.
_exec_module = SourceFileLoader.exec_module
_own_builtins = dict(vars(sys.modules["builtins"]))


def _with_own_builtins(loader, module):  # type: ignore[no-untyped-def]
    module.__dict__["__builtins__"] = _own_builtins
    _exec_module(loader, module)


SourceFileLoader.exec_module = _with_own_builtins  # type: ignore[method-assign]

# The interpreter may be another one than Eelgrass's, without Eelgrass or with another. All else lies below it.
_root = __file__.rpartition("/eelgrass/")[0]
sys.path.insert(0, _root)
import eelgrass  # noqa: E402, F401

sys.path.remove(_root)
if _root not in sys.path:
    sys.path_importer_cache.pop(_root, None)

from eelgrass.recorder.order import read_order  # noqa: E402
from eelgrass.recorder.process.call_stack import at_bottom  # noqa: E402
from eelgrass.recorder.process.child_run import ChildRun  # noqa: E402
from eelgrass.recorder.process.endings import hide_our_frames  # noqa: E402
from eelgrass.recorder.process.modules.concealment import forget_modules  # noqa: E402

SourceFileLoader.exec_module = _exec_module  # type: ignore[method-assign]


def _main() -> None:
    run = ChildRun(read_order(sys.argv[1]))
    plain_hook = sys.excepthook

    def show(kind, error, trace):  # type: ignore[no-untyped-def]
        # Called by the interpreter itself, so exit statuses and signals are those of a plain run.
        hide_our_frames(error)
        sys.excepthook = plain_hook
        plain_hook(kind, error, error.__traceback__)

    try:
        code = run.prepare()
        forget_modules(PLAIN)
        if code is None:
            from runpy import _run_module_as_main  # type: ignore[attr-defined]  # as the interpreter does for -m

            start = partial(_run_module_as_main, run.order.module)
        else:
            start = partial(exec, code, sys.modules["__main__"].__dict__)
        run.begin()
        at_bottom(start)
    except BaseException as error:
        run.end(error)
        if not isinstance(error, SystemExit):
            plain_hook, sys.excepthook = sys.excepthook, show
        raise
    run.end(None)


_main()
