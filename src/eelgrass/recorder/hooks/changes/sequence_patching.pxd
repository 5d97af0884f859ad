# The types with which `sequence_patching.py` is compiled.
from eelgrass.recorder.hooks.log cimport Log
from eelgrass.recorder.hooks.objects.registry cimport Registry

cdef Py_ssize_t _APPEND, _SIZE, _INSERT, _CUT

cdef class SequencePatching:
    cdef public dict copies
    cdef Log _log
    cdef Registry _registry
    cdef dict _sizes

    cpdef object append(self, object owner, object number)
    cpdef object pop_last(self, object owner, object number)
    cpdef bint tell(self, object owner, object number, str method, object key)
