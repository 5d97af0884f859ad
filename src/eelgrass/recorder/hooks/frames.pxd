# The types with which `frames.py` is compiled.
from eelgrass.recorder.hooks.log cimport Log
from eelgrass.recorder.hooks.outside cimport Outside

cdef class Frames:
    cdef public Py_ssize_t recursion_limit, _roomy_limit, _room
    cdef public list depth
    cdef public dict held
    cdef public object look_at_held
    cdef Py_ssize_t _full
    cdef object _flush, _recursion_error
    cdef public Outside outside
    cdef Log _log
    cdef bint _unwound, _counts
    cdef dict _positions

    cpdef object ready(self)
    cpdef bint has_room(self)
    cpdef object enter(self, Py_ssize_t point)
    cpdef object leave(self, Py_ssize_t point, object value)
