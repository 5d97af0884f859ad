# The types with which `patching.py` is compiled.
cimport cython
from eelgrass.recorder.hooks.changes.keyed_patching cimport KeyedPatching
from eelgrass.recorder.hooks.objects.registry cimport Registry
from eelgrass.recorder.hooks.changes.sequence_patching cimport SequencePatching

cdef class Patching:
    cdef public dict sizes
    cdef public KeyedPatching keyed
    cdef public object ways
    cdef Registry _registry
    cdef public SequencePatching sequences

    @cython.locals(kind=object, size=object)
    cpdef bint tell(self, object owner, object number, str method, object key, object result, bint certain)
