# cython: language_level=3, binding=False
"""Being heard by a program that is inside one call of C, which may never return to Python: `max(count())`."""

from eelgrass.recorder.hooks.room cimport EEL_ROOM, eel_give

cdef extern from *:
    """
    #include <pthread.h>
    #include <signal.h>
    #include <string.h>
    static PyObject *eel_to_call;

    /* To all other threads, since no public way tells which of them holds the interpreter; those that do not, leave it at that. */
    static void eel_pass_on(int number, PyThreadState *here) {
        PyThreadState *other = PyInterpreterState_ThreadHead(PyInterpreterState_Main());
        for (; other; other = PyThreadState_Next(other))
            if (other != here) pthread_kill((pthread_t)other->thread_id, number);
    }

    /* The thread that holds the interpreter calls, between any two instructions of C; where none does, since all wait in C,
       the one that was asked first takes it. The call does not come back: whatever the thread was in the middle of stays as
       it is. At worst the process crashes, or hangs, where it would have been killed. */
    static void eel_insisted(int number, siginfo_t *what, void *where) {
        PyThreadState *state = PyGILState_GetThisThreadState();
        PyObject *done;
        if (!state || !PyGILState_Check()) {
            if (what->si_code == SI_TKILL) return;
            eel_pass_on(number, state);
            if (!state) return;
            PyEval_RestoreThread(state);
        }
        eel_give(EEL_ROOM);
        done = PyObject_CallNoArgs(eel_to_call);
        Py_XDECREF(done);
        eel_give(-EEL_ROOM);
    }

    static int eel_listen(int number, PyObject *to_call) {
        struct sigaction how;
        memset(&how, 0, sizeof how);
        how.sa_sigaction = eel_insisted;
        how.sa_flags = SA_SIGINFO;
        sigemptyset(&how.sa_mask);
        Py_INCREF(to_call);
        eel_to_call = to_call;
        return sigaction(number, &how, NULL);
    }
    """
    int eel_listen(int number, object to_call)


def call_when_insisted(int number, to_call):
    """Makes a call, which does not come back, when the signal arrives while this process runs Python code."""
    if eel_listen(number, to_call):
        raise OSError("a handler cannot be set")
