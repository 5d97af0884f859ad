# cython: language_level=3, binding=False
"""Calls of the kernel by number."""

from libc.errno cimport errno
from os import strerror

cdef extern from "unistd.h" nogil:
    long syscall(long number, long, long, long, long, long, long)


def system_call(long number, *arguments):
    """What a call gives; arguments are numbers, or bytes for a pointer to them. Raises OSError."""
    cdef long[6] given = [0, 0, 0, 0, 0, 0]
    cdef long result
    for place, its in enumerate(arguments):
        given[place] = <long><char *>its if isinstance(its, bytes) else <long>its
    result = syscall(number, given[0], given[1], given[2], given[3], given[4], given[5])
    if result < 0:
        raise OSError(errno, strerror(errno))
    return result


def address_of(bytes held):
    """Where bytes lie in memory, for as long as they are held: for a structure that points to another."""
    return <unsigned long><char *>held
