# The types with which `bounds.py` is compiled.
cdef class Bounds:
    cdef public Py_ssize_t elements, characters, kept, long_characters
    cdef Py_ssize_t _left

    cpdef object count(self, Py_ssize_t parts)
    cpdef object brief(self, object value)
