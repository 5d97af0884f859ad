# The types with which `generators.py` is compiled.
cimport cython
from eelgrass.recorder.hooks.frames cimport Frames
from eelgrass.recorder.hooks.log cimport Log

cdef Py_ssize_t _CALLER, _FURTHER

cdef object _below(object frame)

@cython.final
cdef class _Waiting:
    cdef public Py_ssize_t token, suspend, resume, step
    cdef public object code
    cdef public bint suspended, hands_on

cdef class Generators:
    cdef public list depth
    cdef public object once, before_each, look, hook
    cdef Log _log
    cdef Frames _frames
    cdef Py_ssize_t _next_token, _delegations
    cdef dict _waiting, _owners

    cdef object _caller(self, Py_ssize_t further=*)
    cdef object _wake_below(self, object frame)
    @cython.locals(its=_Waiting)
    cdef object _hand_on(self, object frame, Py_ssize_t suspend, Py_ssize_t resume, object iterable)
    cpdef object begin_owner(self, Py_ssize_t point)
    @cython.locals(its=_Waiting)
    cdef _Waiting _find(self, object frame)
    cpdef object begin(self, Py_ssize_t point, object frame=*)
    @cython.locals(its=_Waiting)
    cpdef object suspended(self, Py_ssize_t suspend, Py_ssize_t resume, object value)
    @cython.locals(its=_Waiting)
    cpdef object resumed(self, Py_ssize_t resume, object sent)
    cdef object _went_on(self, _Waiting its, Py_ssize_t resume, object sent)
    cdef object _handed_back(self, _Waiting its)
    @cython.locals(its=_Waiting)
    cdef object _chain_suspended(self, object frame, object value)
    @cython.locals(its=_Waiting)
    cpdef object go_on(self, object frame, Py_ssize_t resume, object sent)
    cdef object _wake(self, _Waiting its, object frame, object sent=*)
    @cython.locals(its=_Waiting)
    cdef object _gone(self, object frame)
