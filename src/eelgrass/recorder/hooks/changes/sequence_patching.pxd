# The types with which `sequence_patching.py` is compiled.
cimport cython
from eelgrass.recorder.hooks.log cimport Log
from eelgrass.recorder.hooks.objects.registry cimport Registry

cdef Py_ssize_t _APPEND, _SIZE, _INSERT, _CUT, _SET_INDEX

cdef class SequencePatching:
    cdef public dict copies
    cdef Log _log
    cdef Registry _registry
    cdef dict _sizes

    cpdef object append(self, object owner, object number)
    cpdef object pop_last(self, object owner, object number)
    cpdef bint tell(self, object owner, object number, str method, object key, bint certain)
    @cython.locals(grown=Py_ssize_t, copy=list)
    cdef bint _by_method(self, object owner, object number, Py_ssize_t before, str method, object key, object base)
    @cython.locals(copy=list, places=list, waiting=list, changed=list, size=Py_ssize_t, place=Py_ssize_t, its=Py_ssize_t)
    cdef bint _on_the_way(self, list heap, object number, Py_ssize_t before)
    @cython.locals(copy=list)
    cdef object _splice(self, object number, Py_ssize_t place, Py_ssize_t gone, list added)
