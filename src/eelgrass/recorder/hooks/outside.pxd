# The types of `outside.pyx`, for `frames.py`.
cdef class Outside:
    cdef set _files
    cdef object _last, _called
    cdef void *_last_file

    cdef object look(self)
