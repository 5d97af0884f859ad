cdef class Numbers:
    cpdef Py_ssize_t get(self, object obj)
    cpdef object at(self, object key, Py_ssize_t number)
    cpdef bint put(self, object obj, Py_ssize_t number)
    cpdef Py_ssize_t drop(self, object key)
