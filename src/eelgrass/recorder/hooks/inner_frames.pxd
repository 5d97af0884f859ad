# The types with which `inner_frames.py` is compiled.
from eelgrass.recorder.hooks.frames cimport Frames
from eelgrass.recorder.hooks.log cimport Log
from eelgrass.recorder.hooks.objects.registry cimport Registry

cdef class InnerFrames:
    cdef Log _log
    cdef Frames _frames
    cdef Registry _registry

    cpdef object noted(self, Py_ssize_t point, object value)
    cpdef object passed(self, Py_ssize_t step, object value)
    cpdef object entered(self, Py_ssize_t enter, Py_ssize_t step, object iterable)
    cpdef bint skipped(self, Py_ssize_t point)
