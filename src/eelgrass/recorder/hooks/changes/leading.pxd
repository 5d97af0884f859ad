# The types with which `leading.py` is compiled.
from eelgrass.recorder.hooks.changes.changes cimport Changes
from eelgrass.recorder.hooks.changes.patching cimport Patching
from eelgrass.recorder.hooks.log cimport Log
from eelgrass.recorder.hooks.objects.registry cimport Registry

cdef class Leading:
    cdef Log _log
    cdef Registry _registry
    cdef Changes _changes
    cdef Patching _patching
    cdef object _ways
