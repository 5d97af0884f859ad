# cython: language_level=3, binding=False
"""What a program is told of time and chance: functions of C in the place of the interpreter's, which look like these, and
methods of its immutable types."""

from eelgrass.recorder.hooks.room cimport EEL_ROOM, eel_give

cdef extern from *:
    """
    #if PY_VERSION_HEX >= 0x030C0000
    #define EEL_DICT(type) PyType_GetDict(type)
    #else
    #define EEL_DICT(type) Py_XNewRef((type)->tp_dict)
    #endif
    #define EEL_METHODS (PY_VERSION_HEX < 0x030C0000 ? 2 : 1)  /* later ones warn of the second, which has to stay as it is */
    static PyObject *eel_now;  /* called with the class and the time zone */
    static PyObject *eel_now_of(PyObject *cls, PyObject *args, PyObject *kwargs) {
        static char *names[] = {"tz", NULL};
        PyObject *zone = Py_None;
        if (!PyArg_ParseTupleAndKeywords(args, kwargs, "|O:now", names, &zone)) return NULL;
        return PyObject_CallFunctionObjArgs(eel_now, cls, zone, NULL);
    }
    static PyObject *eel_utcnow_of(PyObject *cls, PyObject *none) {
        return PyObject_CallFunctionObjArgs(eel_now, cls, Py_False, NULL);
    }
    static PyMethodDef eel_methods[] = {
        {"now", (PyCFunction)(void (*)(void))eel_now_of, METH_VARARGS | METH_KEYWORDS | METH_CLASS, NULL},
        {"utcnow", eel_utcnow_of, METH_NOARGS | METH_CLASS, NULL},
    };
    static int eel_put_now(PyTypeObject *type, PyObject *now) {
        PyObject *names = EEL_DICT(type);
        int which, failed = 0;
        if (!names) return -1;
        Py_INCREF(now);
        eel_now = now;
        for (which = 0; which < EEL_METHODS && !failed; which++) {
            PyObject *plain = PyDict_GetItemString(names, eel_methods[which].ml_name), *ours;
            if (plain && Py_TYPE(plain) == &PyClassMethodDescr_Type)
                eel_methods[which].ml_doc = ((PyMethodDescrObject *)plain)->d_method->ml_doc;
            ours = PyDescr_NewClassMethod(type, &eel_methods[which]);
            failed = !ours || PyDict_SetItemString(names, eel_methods[which].ml_name, ours) < 0;
            Py_XDECREF(ours);
        }
        Py_DECREF(names);
        PyType_Modified(type);
        return failed ? -1 : 0;
    }
    """
    int eel_put_now(type kind, object now) except -1

cdef object _read = None, _draw = None


def take_clock(read):
    """From now on the functions below give what `read(name)`, in seconds, does."""
    global _read
    _read = read


def take_draw(draw):
    """From now on `urandom` gives what `draw(size)`, bytes, does."""
    global _draw
    _draw = draw


cdef object _reading(name):
    eel_give(EEL_ROOM)
    try:
        return _read(name)
    finally:
        eel_give(-EEL_ROOM)


cdef object _nanoseconds(name):
    return round(_reading(name) * 1_000_000_000)


def time():
    return _reading("time")


def time_ns():
    return _nanoseconds("time")


def monotonic():
    return _reading("monotonic")


def monotonic_ns():
    return _nanoseconds("monotonic")


def perf_counter():
    return _reading("perf_counter")


def perf_counter_ns():
    return _nanoseconds("perf_counter")


def process_time():
    return _reading("process_time")


def process_time_ns():
    return _nanoseconds("process_time")


def urandom(size, /):
    eel_give(EEL_ROOM)
    try:
        return _draw(size)
    finally:
        eel_give(-EEL_ROOM)


def put_now(type kind, now):
    """Gives `datetime` the methods `now` and `utcnow` that give `now(cls, zone)`, the zone False for the latter."""
    eel_put_now(kind, now)
