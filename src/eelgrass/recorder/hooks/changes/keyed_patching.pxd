# The types with which `keyed_patching.py` is compiled.
from eelgrass.recorder.hooks.log cimport Log
from eelgrass.recorder.hooks.objects.registry cimport Registry

cdef Py_ssize_t _KEY, _SET_KEY, _REMOVE

cdef class KeyedPatching:
    cdef Log _log
    cdef Registry _registry
    cdef dict _sizes, _copies, _watched
    cdef set _partial

    cpdef bint tell_set(self, object owner, object number, str method, object key, object result, bint certain)
    cpdef bint tell_dict(self, object owner, object number, str method, object key, object result, bint certain)
    cpdef object stored(self, object owner, Py_ssize_t number, object key, object value)
    cpdef object removed(self, object owner, Py_ssize_t number, object key)
    cdef object _tell_length(self, object owner, Py_ssize_t number)
