# cython: language_level=3, binding=False
"""The program's own signal handlers: they run between its statements, never in the middle of a hook, where they would find
things told half."""

import _signal

from eelgrass.recorder.hooks.roomy import is_at_work

cdef extern from *:
    int PyErr_SetInterruptEx(int number)

cdef object _set, _get


cdef class Handler:
    """Stands in for a handler of the program."""

    cdef object handler

    def __init__(self, handler):
        self.handler = handler

    def __call__(self, int number, frame):
        if not is_at_work():
            return self.handler(number, frame)
        # It comes again at the next place where Python looks for signals; here, in C, is none.
        PyErr_SetInterruptEx(number)


cdef object _unwrapped(handler):
    return (<Handler>handler).handler if type(handler) is Handler else handler


def signal(number, handler, /):
    """As the interpreter's own."""
    return _unwrapped(_set(number, Handler(handler) if callable(handler) else handler))


def getsignal(number, /):
    """As the interpreter's own."""
    return _unwrapped(_get(number))


def keep_out_of_hooks():
    """From now on handlers that the program sets wait while a hook is at work."""
    global _set, _get
    _set, _get = _signal.signal, _signal.getsignal
    _signal.signal, _signal.getsignal = signal, getsignal
