"""Started by `eelgrass.runs` as a script, in a process of its own: `__main__.py ORDER`, the order being JSON."""

import sys

PLAIN = frozenset(sys.modules)  # what a plain run begins with

import json  # noqa: E402

from eelgrass.recorder.child import Run, hide_our_frames  # noqa: E402
from eelgrass.recorder.unseen import forget_modules  # noqa: E402


def _main() -> None:
    run = Run(json.loads(sys.argv[1]))
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
