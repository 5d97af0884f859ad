# cython: language_level=3, binding=False
"""How far two lists have the same elements, by identity, at the speed of C."""

from cpython.list cimport PyList_GET_SIZE
from cpython.ref cimport PyObject

cdef extern from "Python.h":
    PyObject *element "PyList_GET_ITEM"(object its, Py_ssize_t place)


def same_front(its, others, Py_ssize_t most):
    """How many elements are the same at the beginning, of so many."""
    cdef Py_ssize_t place
    for place in range(most):
        if element(its, place) != element(others, place):
            return place
    return most


def same_back(its, others, Py_ssize_t most):
    """How many elements are the same at the end, of so many."""
    cdef Py_ssize_t place, size = PyList_GET_SIZE(its), other_size = PyList_GET_SIZE(others)
    for place in range(1, most + 1):
        if element(its, size - place) != element(others, other_size - place):
            return place - 1
    return most


def different(its, others, Py_ssize_t first, Py_ssize_t last, Py_ssize_t further):
    """The places from `first` to before `last` whose element is not that of the other list so much further."""
    cdef Py_ssize_t place
    return [place for place in range(first, last) if element(its, place) != element(others, place + further)]
