# The types with which `ways.py` is compiled.
from eelgrass.recorder.hooks.objects.registry cimport Registry

cdef class Way:
    cdef public Py_ssize_t number
    cdef public Py_ssize_t by
    cdef public list methods
    cdef public object owner, version

    cpdef bint has_methods(self)

cdef class Ways:
    cdef Registry _registry
    cdef dict _sizes, _fields
    cdef public list open
    cdef public dict watched
    cdef object _alone

    cpdef list changed(self)
    cdef bint _is_as_told(self, Way way, object owner)
    cdef bint _is_handed_out(self, Way way, object owner, list found)
    cdef object _fields_of(self, object owner)
    cpdef object _holders_of(self, object owner)
