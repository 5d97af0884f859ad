# cython: language_level=3, binding=False
"""Whether a dictionary is as it was: the interpreter gives it another number with each change."""

cdef extern from *:
    """
    static inline unsigned long long eel_version(PyObject *dict) {
    #if PY_VERSION_HEX < 0x030C0000
        return ((PyDictObject *)dict)->ma_version_tag;
    #else
        return 0;
    #endif
    }
    """
    unsigned long long eel_version(object dict)


def version(dict its):
    """A number that no other state of any dictionary has, or 0 where this interpreter keeps none."""
    return eel_version(its)
