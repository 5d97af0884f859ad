# cython: language_level=3, binding=False
"""What a program is told of time and chance, in the place of the interpreter's own functions and of methods of its immutable
types: functions of C, which look like these, and leave no frame of ours in a traceback."""

from eelgrass.recorder.hooks.room cimport EEL_ROOM, eel_give

cdef extern from *:
    """
    #if PY_VERSION_HEX >= 0x030C0000
    #define EEL_DICT(type) PyType_GetDict(type)
    #define EEL_DATES 1  /* `utcnow` warns from here on, and has to stay as it is */
    #else
    #define EEL_DICT(type) Py_XNewRef((type)->tp_dict)
    #define EEL_DATES 2
    #endif
    static PyObject *eel_read;  /* gives a reading, in seconds, of the clock of a name */
    static PyObject *eel_bits;  /* gives a whole number of so many random bits */
    static PyObject *eel_utc;  /* the time zone */
    static PyObject *eel_from, *eel_replace;  /* methods of `datetime` itself: a class may have others by their names */

    static PyObject *eel_reading(const char *name) {
        PyObject *found;
        eel_give(EEL_ROOM);
        found = PyObject_CallFunction(eel_read, "s", name);
        eel_give(-EEL_ROOM);
        return found;
    }
    static PyObject *eel_nanoseconds(const char *name) {
        PyObject *found = eel_reading(name);
        double seconds = found ? PyFloat_AsDouble(found) : -1.0;
        Py_XDECREF(found);
        return found ? PyLong_FromDouble(seconds * 1e9 + (seconds < 0 ? -0.5 : 0.5)) : NULL;
    }
    #define EEL_CLOCK(name) \\
        static PyObject *eel_##name(PyObject *module, PyObject *none) { return eel_reading(#name); } \\
        static PyObject *eel_##name##_ns(PyObject *module, PyObject *none) { return eel_nanoseconds(#name); }
    #define EEL_FUNCTIONS(name) {#name, eel_##name, METH_NOARGS, NULL}, {#name "_ns", eel_##name##_ns, METH_NOARGS, NULL}
    EEL_CLOCK(time)
    EEL_CLOCK(monotonic)
    EEL_CLOCK(perf_counter)
    EEL_CLOCK(process_time)

    static PyObject *eel_urandom(PyObject *module, PyObject *size) {
        Py_ssize_t count = PyNumber_AsSsize_t(size, PyExc_OverflowError);
        PyObject *number, *bytes;
        if (count == -1 && PyErr_Occurred()) return NULL;
        if (count < 0) {
            PyErr_SetString(PyExc_ValueError, "negative argument not allowed");
            return NULL;
        }
        if (!count) return PyBytes_FromStringAndSize(NULL, 0);
        number = PyObject_CallFunction(eel_bits, "n", 8 * count);
        bytes = number ? PyObject_CallMethod(number, "to_bytes", "ns", count, "little") : NULL;
        Py_XDECREF(number);
        return bytes;
    }
    static PyMethodDef eel_functions[] = {
        EEL_FUNCTIONS(time), EEL_FUNCTIONS(monotonic), EEL_FUNCTIONS(perf_counter), EEL_FUNCTIONS(process_time),
        {"urandom", eel_urandom, METH_O, NULL},
        {NULL, NULL, 0, NULL},
    };

    static PyObject *eel_date(PyObject *cls, PyObject *zone) {
        PyObject *reading = eel_reading("time"), *from = Py_TYPE(eel_from)->tp_descr_get(eel_from, NULL, cls), *made = NULL;
        if (reading && from) made = PyObject_CallFunctionObjArgs(from, reading, zone, NULL);
        Py_XDECREF(reading); Py_XDECREF(from);
        return made;
    }
    static PyObject *eel_now(PyObject *cls, PyObject *args, PyObject *kwargs) {
        static char *names[] = {"tz", NULL};
        PyObject *zone = Py_None;
        if (!PyArg_ParseTupleAndKeywords(args, kwargs, "|O:now", names, &zone)) return NULL;
        return eel_date(cls, zone);
    }
    static PyObject *eel_utcnow(PyObject *cls, PyObject *none) {
        PyObject *date = eel_date(cls, eel_utc), *itself = date ? PyTuple_Pack(1, date) : NULL;
        PyObject *zone = Py_BuildValue("{sO}", "tzinfo", Py_None), *made = NULL;
        if (itself && zone) made = PyObject_Call(eel_replace, itself, zone);
        Py_XDECREF(date); Py_XDECREF(itself); Py_XDECREF(zone);
        return made;
    }
    static PyMethodDef eel_dates[] = {
        {"now", (PyCFunction)(void (*)(void))eel_now, METH_VARARGS | METH_KEYWORDS | METH_CLASS, NULL},
        {"utcnow", eel_utcnow, METH_NOARGS | METH_CLASS, NULL},
    };

    static PyObject *eel_in_place_of(PyObject *plain) {  /* a function of the same name; None for any other */
        const char *name = PyCFunction_Check(plain) ? ((PyCFunctionObject *)plain)->m_ml->ml_name : "";
        PyMethodDef *its;
        for (its = eel_functions; its->ml_name; its++)
            if (!strcmp(its->ml_name, name)) {
                its->ml_doc = ((PyCFunctionObject *)plain)->m_ml->ml_doc;
                return PyCFunction_NewEx(its, ((PyCFunctionObject *)plain)->m_self, ((PyCFunctionObject *)plain)->m_module);
            }
        Py_RETURN_NONE;
    }
    static int eel_put_dates(PyTypeObject *type) {
        PyObject *names = EEL_DICT(type);
        int which, failed;
        eel_from = names ? PyDict_GetItemString(names, "fromtimestamp") : NULL;
        eel_replace = names ? PyDict_GetItemString(names, "replace") : NULL;
        failed = !eel_from || !eel_replace;
        Py_XINCREF(eel_from); Py_XINCREF(eel_replace);
        for (which = 0; which < EEL_DATES && !failed; which++) {
            PyObject *plain = PyDict_GetItemString(names, eel_dates[which].ml_name), *ours;
            if (plain && Py_TYPE(plain) == &PyClassMethodDescr_Type)
                eel_dates[which].ml_doc = ((PyMethodDescrObject *)plain)->d_method->ml_doc;
            ours = PyDescr_NewClassMethod(type, &eel_dates[which]);
            failed = !ours || PyDict_SetItemString(names, eel_dates[which].ml_name, ours) < 0;
            Py_XDECREF(ours);
        }
        Py_XDECREF(names);
        PyType_Modified(type);
        return failed ? -1 : 0;
    }
    static void eel_take(PyObject **place, PyObject *its) { Py_INCREF(its); Py_XSETREF(*place, its); }
    static void eel_take_read(PyObject *read) { eel_take(&eel_read, read); }
    static void eel_take_bits(PyObject *bits) { eel_take(&eel_bits, bits); }
    static void eel_take_utc(PyObject *utc) { eel_take(&eel_utc, utc); }
    """
    object eel_in_place_of(object plain)
    int eel_put_dates(type kind) except -1
    void eel_take_read(object read)
    void eel_take_bits(object bits)
    void eel_take_utc(object utc)


def clock(plain, read):
    """In the place of a function that reads a clock: what `read(name)`, in seconds, says."""
    eel_take_read(read)
    return eel_in_place_of(plain)


def chance(plain, bits):
    """In the place of `urandom`: bytes of `bits(count)`, a whole number of so many bits."""
    eel_take_bits(bits)
    return eel_in_place_of(plain)


def put_dates(type kind, utc):
    """Gives `datetime` methods that say what is *now* by the clock; `utc` is that time zone."""
    eel_take_utc(utc)
    eel_put_dates(kind)
