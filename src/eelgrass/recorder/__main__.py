"""Started by `eelgrass.runs` as a script, in a process of its own: `__main__.py ORDER`, the order being JSON."""

import sys

PLAIN = frozenset(sys.modules)  # what a plain run begins with

from importlib.machinery import SourceFileLoader  # noqa: E402

# What we import gets built-in names of its own: the program may give those that it sees another meaning.
_exec_module = SourceFileLoader.exec_module
_own_builtins = dict(vars(sys.modules["builtins"]))


def _with_own_builtins(loader, module):  # type: ignore[no-untyped-def]
    module.__dict__["__builtins__"] = _own_builtins
    _exec_module(loader, module)


SourceFileLoader.exec_module = _with_own_builtins  # type: ignore[method-assign]

from eelgrass.recorder.order import read_order  # noqa: E402
from eelgrass.recorder.process.child_run import ChildRun, hide_our_frames  # noqa: E402
from eelgrass.recorder.process.concealment import forget_modules  # noqa: E402

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
        code, namespace = run.prepare()
        forget_modules(PLAIN)
        run.begin()
        exec(code, namespace)
    except BaseException as error:
        run.end(error)
        if not isinstance(error, SystemExit):
            plain_hook, sys.excepthook = sys.excepthook, show
        raise
    run.end(None)


_main()
