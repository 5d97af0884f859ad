# The types with which `objects.py` is compiled.
cimport cython
from eelgrass.recorder.hooks.objects.bounds cimport Bounds
from eelgrass.recorder.hooks.objects.numbers cimport Numbers
from eelgrass.recorder.hooks.objects.type_facts cimport TypeFacts

cdef list _NOTHING
cdef Py_ssize_t _ONLY_OURS, _KEY, _MADE, _HELD, _HELD_FIELD, _LENGTH

cdef class Registry:
    cdef public Numbers numbers
    cdef public dict copies, keyed_copies, class_copies
    cdef public set mixed, partial
    cdef public Bounds bounds
    cdef public object report
    cdef object _log, _when_gone, _events
    cdef list _wholes, _codes
    cdef dict _holders, _loose, _facts, _old_facts, _iterable
    cdef bint _holds, _describing, _released
    cdef Py_ssize_t _next, _swept_size, _types
    cdef list _fresh
    cdef public object arrays

    @cython.locals(found=TypeFacts)
    cpdef TypeFacts facts(self, object type_)
    cdef object _remember(self, object number, object obj, TypeFacts facts)
    @cython.locals(facts=TypeFacts)
    cdef object _describe_fresh(self)
    @cython.locals(size=Py_ssize_t, most=Py_ssize_t, items=list, pairs=list, fields=list, wholes=list)
    cdef object _tell_made(self, object number, object obj, TypeFacts facts)
    cpdef object tell_length(self, object number, Py_ssize_t size)
    @cython.locals(number=Py_ssize_t)
    cpdef object known(self, object obj)
    @cython.locals(number=object, facts=TypeFacts)
    cpdef object ref(self, object obj)
    @cython.locals(kind=object)
    cpdef object plain(self, object value, Py_ssize_t nesting=*)
