# The types with which `type_facts.py` is compiled.
cdef class TypeFacts:
    cdef public Py_ssize_t number
    cdef public object type, iterate, size, field_dict, value_of
    cdef public str name, shape
    cdef public dict slots, getters
    cdef public set attributes
    cdef public bint plain_attributes, by_parts, is_dict, has_fields, has_inside_in_c, allows_weak
    cdef dict _kept

    cpdef bint has_nothing(self, object obj)
