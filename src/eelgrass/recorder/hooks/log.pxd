# The types with which `log.py` is compiled.
cimport cython
from eelgrass.recorder.hooks.objects.numbers cimport Numbers
from eelgrass.recorder.hooks.objects.registry cimport Registry

cdef Py_ssize_t _TEXT, _FLOAT, _NONE, _FALSE, _TRUE, _REF, _OTHER, _LONG

cdef class Log:
    # Of a side run, `events` is no plain list.
    cdef public object events, mark, look
    cdef public Registry registry
    cdef public bint is_plain, is_due
    cdef public list wholes, floats, texts, codes
    cdef public Numbers numbers
    cdef object _hand_over, _interrupt
    cdef Py_ssize_t _undisturbed, _flushed_at, _flushes, _long_told, _long_kept
    cdef dict _long

    @cython.locals(kind=object)
    cpdef object tell(self, Py_ssize_t point, object value)
    @cython.locals(kind=object, number=Py_ssize_t)
    cpdef object bear(self, Py_ssize_t point, object value)
    @cython.locals(told=object)
    cpdef object tell_of(self, Py_ssize_t point, tuple wholes, object value)
    cdef object _tell_long(self, Py_ssize_t point, object text)
