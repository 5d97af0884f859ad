# cython: language_level=3, binding=False
"""Who calls a function of the program: itself, or something that is not woven. Looked at where each frame begins, so only
pointers are compared, as long as it is the program."""

from eelgrass.recorder.hooks.room cimport EEL_ROOM, eel_give

cdef extern from *:
    """
    /* The beginning of the interpreter's frames, as its own headers have it: they cannot be included here. */
    #if PY_VERSION_HEX < 0x030C0000
    typedef struct eel_frame {
        PyObject *function, *globals, *builtins, *locals, *code, *object;
        struct eel_frame *previous;
    } eel_frame;
    #define EEL_HERE ((eel_frame *)PyThreadState_Get()->cframe->current_frame)
    #define EEL_IS_OF_C(frame) 0
    #else
    typedef struct eel_frame {
        PyObject *code;
        struct eel_frame *previous;
        PyObject *function, *globals, *builtins, *locals, *object;
        void *instruction;
        int top;
        uint16_t offset;
        char owner;
    } eel_frame;
    #if PY_VERSION_HEX < 0x030D0000
    #define EEL_HERE ((eel_frame *)PyThreadState_Get()->cframe->current_frame)
    #else
    #define EEL_HERE ((eel_frame *)PyThreadState_Get()->current_frame)
    #endif
    #define EEL_IS_OF_C(frame) ((frame)->owner == 3)  /* it stands where C calls the interpreter */
    #endif
    #if PY_VERSION_HEX < 0x030E0000
    static inline PyObject *eel_code_of(eel_frame *frame) {
        while (frame && EEL_IS_OF_C(frame)) frame = frame->previous;
        return frame && PyCode_Check(frame->code) ? frame->code : NULL;
    }
    static inline PyObject *eel_calling(void) {
        eel_frame *here = EEL_HERE;
        return here ? eel_code_of(here->previous) : NULL;
    }
    static inline PyObject *eel_called(void) { return eel_code_of(EEL_HERE); }
    #else
    static inline PyObject *eel_calling(void) { return NULL; }  /* not known how */
    static inline PyObject *eel_called(void) { return NULL; }
    #endif
    #define eel_file_of(code) ((void *)((PyCodeObject *)(code))->co_filename)
    """
    ctypedef struct PyObject
    PyObject *eel_calling()  # borrowed, as is the next
    PyObject *eel_called()
    void *eel_file_of(PyObject *code)


cdef class Outside:
    """`called(caller, code)` is told of each function of the program that is called by code which is none of it."""

    def __init__(self, called):
        self._files, self._called, self._last, self._last_file = set(), called, None, NULL

    def own(self, code):
        """Code of the program: so is all that has the same file."""
        self._files.add(code.co_filename)

    cdef object look(self):
        cdef PyObject *caller = eel_calling()
        if caller == NULL or eel_file_of(caller) == self._last_file:
            return
        file = <object><PyObject *>eel_file_of(caller)
        if file in self._files:
            self._last, self._last_file = file, eel_file_of(caller)
            return
        cdef PyObject *code = eel_called()
        if code == NULL:
            return
        eel_give(EEL_ROOM)
        try:
            self._called(<object>caller, <object>code)
        finally:
            eel_give(-EEL_ROOM)
