# cython: language_level=3, binding=False
"""Methods of a text stream that tell what passes through it, and leave no trace of their own: no frame in a traceback,
no unit of the call stack, and the same look as the methods of C whose place they take."""

from eelgrass.recorder.hooks.room cimport EEL_ROOM, eel_give

cdef extern from *:
    """
    static PyCFunction eel_plain[3];  /* the type's own methods */
    static PyObject *eel_before;  /* called with the stream, and whether more than a line is wanted */
    static PyObject *eel_after;  /* called with the stream and what was written or read */

    static int eel_told(PyObject *called, PyObject *stream, PyObject *text) {
        PyObject *done;
        eel_give(EEL_ROOM);
        done = PyObject_CallFunctionObjArgs(called, stream, text, NULL);
        eel_give(-EEL_ROOM);
        Py_XDECREF(done);
        return done ? 0 : -1;
    }

    static PyObject *eel_read_by(int which, PyObject *stream, PyObject *const *given, Py_ssize_t count) {
        PyObject *text;
        if (eel_told(eel_before, stream, which ? Py_False : Py_True) < 0) return NULL;
        text = ((_PyCFunctionFast)(void (*)(void))eel_plain[which])(stream, given, count);
        if (text && eel_told(eel_after, stream, text) < 0) Py_CLEAR(text);
        return text;
    }

    static PyObject *eel_read(PyObject *stream, PyObject *const *given, Py_ssize_t count) {
        return eel_read_by(0, stream, given, count);
    }

    static PyObject *eel_readline(PyObject *stream, PyObject *const *given, Py_ssize_t count) {
        return eel_read_by(1, stream, given, count);
    }

    static PyObject *eel_write(PyObject *stream, PyObject *text) {
        PyObject *written = eel_plain[2](stream, text);
        if (written && eel_told(eel_after, stream, text) < 0) Py_CLEAR(written);
        return written;
    }

    static PyMethodDef eel_methods[] = {
        {"read", (PyCFunction)(void (*)(void))eel_read, METH_FASTCALL, NULL},
        {"readline", (PyCFunction)(void (*)(void))eel_readline, METH_FASTCALL, NULL},
        {"write", (PyCFunction)eel_write, METH_O, NULL},
    };

    /* In place of a method of C that is called in the same way; None for any other. */
    static PyObject *eel_instead(PyObject *type, PyObject *plain, int which) {
        PyMethodDef *its = Py_TYPE(plain) == &PyMethodDescr_Type ? ((PyMethodDescrObject *)plain)->d_method : NULL;
        if (!its || its->ml_flags != eel_methods[which].ml_flags) Py_RETURN_NONE;
        eel_plain[which] = its->ml_meth;
        eel_methods[which].ml_doc = its->ml_doc;
        return PyDescr_NewMethod((PyTypeObject *)type, &eel_methods[which]);
    }
    static void eel_keep(PyObject *before, PyObject *after) {
        Py_INCREF(before); Py_INCREF(after);
        eel_before = before; eel_after = after;
    }
    """
    object eel_instead(object type, object plain, int which)
    void eel_keep(object before, object after)


def tell_by(type kind, before, after):
    """Gives a class of text streams the methods that tell: `before(stream, more)` when a line, or more, is to be
    read, and `after(stream, text)` with what was read or written. Gives the names of those that it cannot give here."""
    left = []
    eel_keep(before, after)
    for which, name in enumerate(("read", "readline", "write")):
        method = eel_instead(kind, getattr(kind.__base__, name), which)
        if method is None:
            left.append(name)
        else:
            setattr(kind, name, method)
    return left
