# The types with which `held.py` is compiled.
cimport cython

cdef class Held:
    cdef public dict of

    @cython.locals(held=list)
    cpdef object keep(self, object frame, object thing)
    @cython.locals(held=list)
    cpdef object take_back(self, object frame)
