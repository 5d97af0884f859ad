# The types with which `changes.py` is compiled.
cimport cython
from eelgrass.recorder.hooks.log cimport Log
from eelgrass.recorder.hooks.objects.numbers cimport Numbers
from eelgrass.recorder.hooks.objects.registry cimport Registry
from eelgrass.recorder.hooks.changes.patching cimport Patching

cdef Py_ssize_t _SET_INDEX, _KEY, _GLOBAL

cdef class Changes:
    cdef public object held
    cdef public Patching patching
    cdef Log _log
    cdef Registry _registry
    cdef Numbers _numbers
    cdef dict _copies, _foreign, _watched, _telling
    cdef list _plain

    cpdef object item_set(self, object owner, object key)
    @cython.locals(kind=object, number=Py_ssize_t)
    cdef object _item_set(self, object owner, object key)
    @cython.locals(value=object)
    cdef object _index_set(self, object owner, Py_ssize_t number, object key)
    @cython.locals(number=Py_ssize_t)
    cpdef object field_told(self, Py_ssize_t point, object owner, object value)
    cpdef object changed(self, object owner, str method=*, object key=*, object result=*, bint certain=*)
    cpdef object called(self, str method, object result, object key, object owner)
    cdef bint _tells_itself(self, object kind, str method)
