# Room on the call stack for what runs because of us, so that the program meets its limit where a plain run does.

cdef extern from *:
    """
    #ifndef EEL_REMAINING
    #if PY_VERSION_HEX < 0x030C0000
    #define EEL_REMAINING(state) ((state)->recursion_remaining)
    #define EEL_LIMIT(state) ((state)->recursion_limit)
    #else
    #define EEL_REMAINING(state) ((state)->py_recursion_remaining)
    #define EEL_LIMIT(state) ((state)->py_recursion_limit)
    #endif
    #define EEL_ROOM 400  /* what the deepest of the hooks may need */
    static inline void eel_give_in_c(int units) {
    #if PY_VERSION_HEX >= 0x030C0000 && PY_VERSION_HEX < 0x030E0000  /* it counts calls of C by themselves */
        PyThreadState_Get()->c_recursion_remaining += units;
    #endif
    }
    static inline void eel_give(int units) {
        EEL_REMAINING(PyThreadState_Get()) += units;
        eel_give_in_c(units);
    }
    #endif
    """
    int EEL_ROOM
    void eel_give(int units)
    void eel_give_in_c(int units)
