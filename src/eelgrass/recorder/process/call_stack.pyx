# cython: language_level=3, binding=False
"""The interpreter's call stack: a program runs at its bottom, where none of our frames is below, and weaving goes deep."""

from eelgrass.recorder.hooks.room cimport eel_give_in_c

cdef extern from *:
    """
    #if PY_VERSION_HEX < 0x030D0000
    #define EEL_CURRENT(state) ((state)->cframe->current_frame)
    #else
    #define EEL_CURRENT(state) ((state)->current_frame)
    #endif
    #if PY_VERSION_HEX >= 0x030D0000 && PY_VERSION_HEX < 0x030E0000
    #define C_RECURSION_LIMIT Py_C_RECURSION_LIMIT
    #endif
    static PyObject *eel_at_bottom(PyObject *call) {
        PyThreadState *state = PyThreadState_Get();
        struct _PyInterpreterFrame *ours = EEL_CURRENT(state);
        PyObject *given;
        EEL_CURRENT(state) = NULL;  /* as when the interpreter starts */
    #ifdef C_RECURSION_LIMIT
        int remaining = state->c_recursion_remaining;
        state->c_recursion_remaining = C_RECURSION_LIMIT + 1;  /* this call takes one */
    #endif
        given = PyObject_CallNoArgs(call);
    #ifdef C_RECURSION_LIMIT
        state->c_recursion_remaining = remaining;
    #endif
        EEL_CURRENT(state) = ours;
        return given;
    }
    """
    object eel_at_bottom(object call)


def at_bottom(call):
    """What a call gives that finds no frames below it; nor do those that it calls."""
    return eel_at_bottom(call)


def room_in_c(int units):
    """So many more calls of C inside of one another are allowed, where the interpreter counts them."""
    eel_give_in_c(units)
