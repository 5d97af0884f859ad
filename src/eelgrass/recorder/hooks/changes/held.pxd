# The types with which `held.py` is compiled.
cimport cython

cdef Py_ssize_t _CALLER

cdef class Held:
    cdef dict _of

    @cython.locals(held=list)
    cpdef object hold(self, object thing)
    @cython.locals(held=list)
    cpdef object take(self)
