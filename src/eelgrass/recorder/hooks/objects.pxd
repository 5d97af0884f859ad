# The types with which `objects.py` is compiled.
cimport cython

cdef Py_ssize_t _ONLY_OURS, _KEY, _MADE, _HELD, _HELD_FIELD

cdef class Registry:
    cdef public dict numbers, copies, set_copies, dict_copies
    cdef public set mixed
    cdef public object report
    cdef object _log
    cdef dict _holders, _loose, _facts, _old_facts, _iterable
    cdef bint _holds, _describing, _released
    cdef Py_ssize_t _next, _swept_size, _types
    cdef list _fresh, _arrays

    cpdef object facts(self, object type_)
    @cython.locals(number=object)
    cpdef object known(self, object obj)
    @cython.locals(number=object)
    cpdef object ref(self, object obj)
    @cython.locals(kind=object)
    cpdef object plain(self, object value, Py_ssize_t nesting=*)
