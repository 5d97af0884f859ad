# The types with which `packing.py` is compiled.
cimport cython

@cython.locals(view="unsigned int[::1]", place=Py_ssize_t)
cpdef object packed_events(list events)

@cython.locals(view="long long[::1]", place=Py_ssize_t)
cpdef object packed_wholes(list wholes)

@cython.locals(view="double[::1]", place=Py_ssize_t)
cpdef object packed_floats(list floats)

cpdef object packed_lengths(list texts)
