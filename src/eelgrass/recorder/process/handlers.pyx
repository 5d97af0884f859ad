# cython: language_level=3, binding=False
"""Signal handlers, the program's own and ours: they run between its statements, never in the middle of a hook, where they
would find things told half."""

import _signal

from eelgrass.recorder.hooks.room cimport EEL_ROOM, eel_give
from eelgrass.recorder.hooks.roomy import is_at_work

cdef extern from *:
    int PyErr_SetInterruptEx(int number)
    int PyErr_CheckSignals() except -1

cdef object _set, _get, _told


cdef class Handler:
    """Stands in for a handler of the program."""

    cdef object handler

    def __init__(self, handler):
        self.handler = handler

    def __call__(self, int number, frame):
        if not is_at_work():
            eel_give(EEL_ROOM)
            try:
                _told(number)
            finally:
                eel_give(-EEL_ROOM)
            return self.handler(number, frame)
        # It comes again at the next place where Python looks for signals; here, in C, is none.
        PyErr_SetInterruptEx(number)


cdef class Between:
    """A handler of ours, which a program that is in the middle of a hook, or of this handler, does not hear."""

    cdef object handler
    cdef bint is_called

    def __init__(self, handler):
        self.handler = handler

    def __call__(self, int number, frame):
        if self.is_called or is_at_work():
            return
        self.is_called = True
        eel_give(EEL_ROOM)
        try:
            self.handler(number, frame)
        finally:
            eel_give(-EEL_ROOM)
            self.is_called = False


cdef class WithRoom:
    """A function of ours that the interpreter calls, with room on the call stack."""

    cdef object function

    def __init__(self, function):
        self.function = function

    def __call__(self, *given):
        eel_give(EEL_ROOM)
        try:
            return self.function(*given)
        finally:
            eel_give(-EEL_ROOM)


cdef object _unwrapped(handler):
    return (<Handler>handler).handler if type(handler) is Handler else handler


def signal(number, handler, /):
    """As the interpreter's own."""
    return _unwrapped(_set(number, Handler(handler) if callable(handler) else handler))


def getsignal(number, /):
    """As the interpreter's own."""
    return _unwrapped(_get(number))


def keep_out_of_hooks(told):
    """From now on handlers that the program sets wait while a hook is at work; `told(number)` before each is called."""
    global _set, _get, _told
    _told = told
    _set, _get = _signal.signal, _signal.getsignal
    _signal.signal, _signal.getsignal = signal, getsignal


def hears_signals():
    """Runs the handlers of signals that have arrived."""
    PyErr_CheckSignals()
