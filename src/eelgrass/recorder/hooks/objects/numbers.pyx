# cython: language_level=3, binding=False
"""The numbers of the program's objects, by identity, each for exactly as long as its object lives.

A table in C, by address (open addressing, linear probing). The end of an object is noticed by the function that its
type has for it (`tp_dealloc`), which is wrapped for built-in types when the first object of the type gets a number; so
nothing has to be held, and files are closed when they are in a plain run. Classes of the program are not wrapped, since
their subclasses look for these functions; their objects allow weak references.
"""

cdef extern from *:
    """
    typedef struct { PyObject *key; Py_ssize_t number; } eel_entry;
    static eel_entry *eel_table = NULL;
    static size_t eel_size = 0, eel_used = 0;  /* a power of two; entries in use */
    static Py_ssize_t *eel_ended = NULL;
    static size_t eel_ended_size = 0, eel_ended_count = 0;

    static inline size_t eel_place(PyObject *key) {
        size_t hash = (size_t)key >> 4;
        return (hash ^ (hash >> 17) ^ (hash >> 31)) & (eel_size - 1);
    }
    static Py_ssize_t eel_get(PyObject *key) {
        if (!eel_used) return -1;
        for (size_t at = eel_place(key); eel_table[at].key; at = (at + 1) & (eel_size - 1))
            if (eel_table[at].key == key) return eel_table[at].number;
        return -1;
    }
    static void eel_insert(PyObject *key, Py_ssize_t number) {
        size_t at = eel_place(key);
        while (eel_table[at].key && eel_table[at].key != key) at = (at + 1) & (eel_size - 1);
        if (!eel_table[at].key) eel_used++;
        eel_table[at].key = key;
        eel_table[at].number = number;
    }
    static int eel_put(PyObject *key, Py_ssize_t number) {
        if (2 * (eel_used + 1) > eel_size) {
            eel_entry *old = eel_table;
            size_t old_size = eel_size, size = old_size ? 2 * old_size : 1024;
            eel_entry *table = (eel_entry *)PyMem_RawCalloc(size, sizeof(eel_entry));
            if (!table) return -1;
            eel_table = table; eel_size = size; eel_used = 0;
            for (size_t at = 0; at < old_size; at++)
                if (old[at].key) eel_insert(old[at].key, old[at].number);
            PyMem_RawFree(old);
        }
        eel_insert(key, number);
        return 0;
    }
    /* Closes the gap: later entries of the same run move up (Knuth, The Art of Computer Programming 3, 6.4, algorithm R). */
    static Py_ssize_t eel_drop(PyObject *key) {
        if (!eel_used) return -1;
        size_t mask = eel_size - 1, at = eel_place(key);
        while (eel_table[at].key != key) {
            if (!eel_table[at].key) return -1;
            at = (at + 1) & mask;
        }
        Py_ssize_t number = eel_table[at].number;
        size_t gap = at;
        for (;;) {
            at = (at + 1) & mask;
            if (!eel_table[at].key) break;
            size_t home = eel_place(eel_table[at].key);
            if (((at - home) & mask) >= ((at - gap) & mask)) {
                eel_table[gap] = eel_table[at];
                gap = at;
            }
        }
        eel_table[gap].key = NULL;
        eel_used--;
        return number;
    }

    #define EEL_MOST_TYPES 256
    static struct { PyTypeObject *type; destructor original; } eel_types[EEL_MOST_TYPES];
    static int eel_type_count = 0;
    static destructor eel_exception = NULL;
    static void *eel_method_wrapper = NULL;  /* a type that has no public name in C */

    /* The objects that are going in a thread, the innermost first, with the type whose function is at work. A type's
       function may call its base's, which is wrapped, too; and it may let other threads go on, as closing a file does. */
    struct eel_going { PyObject *op; PyTypeObject *type; struct eel_going *outer; };
    static __thread struct eel_going *eel_innermost = NULL;
    static __thread int eel_depth = 0;
    static __thread PyObject **eel_waiting = NULL;
    static __thread size_t eel_waiting_size = 0, eel_waiting_count = 0;

    /* Where a type stands among those whose ends are noticed, or -1; found again at once. */
    static struct { PyTypeObject *type; int at; } eel_found[256];
    static int eel_place_of(PyTypeObject *type) {
        size_t slot = ((size_t)type >> 4 ^ (size_t)type >> 12) & 255;
        if (eel_found[slot].type == type) return eel_found[slot].at;
        int at = eel_type_count - 1;
        while (at >= 0 && eel_types[at].type != type) at--;
        eel_found[slot].type = type;
        eel_found[slot].at = at;
        return at;
    }
    static void eel_go(PyObject *op) {
        int again = eel_innermost && eel_innermost->op == op;
        PyTypeObject *type = again ? eel_innermost->type->tp_base : Py_TYPE(op);
        for (; type; type = type->tp_base) {
            int at = eel_place_of(type);
            if (at < 0) continue;
            struct eel_going going = { op, type, eel_innermost };
            eel_innermost = &going;
            eel_types[at].original(op);
            eel_innermost = going.outer;
            return;
        }
        Py_FatalError("eelgrass: an object of an unknown type goes");
    }
    /* Types whose objects the interpreter takes care of when they lead to one another in long chains. */
    static int eel_chains(PyObject *op) {
        PyTypeObject *type = Py_TYPE(op);
        if (type == &PyList_Type || type == &PyDict_Type || type == &PyTuple_Type || type == &PySet_Type ||
            type == &PyFrozenSet_Type || type == &PyODict_Type || type == &PyCFunction_Type ||
            type == &PyCMethod_Type || (void *)type == eel_method_wrapper || type == &PyTraceBack_Type)
            return 1;
        int at = eel_place_of(type);
        return at >= 0 && eel_types[at].original == eel_exception;
    }
    static int eel_wait(PyObject *op) {
        if (eel_waiting_count == eel_waiting_size) {
            size_t size = eel_waiting_size ? 2 * eel_waiting_size : 256;
            PyObject **larger = (PyObject **)PyMem_RawRealloc(eel_waiting, size * sizeof(PyObject *));
            if (!larger) return 0;
            eel_waiting = larger;
            eel_waiting_size = size;
        }
        PyObject_GC_UnTrack(op);
        eel_waiting[eel_waiting_count++] = op;
        return 1;
    }
    static void eel_dealloc(PyObject *op) {
        Py_ssize_t number = eel_drop(op);
        if (number >= 0 && eel_ended_count < eel_ended_size) eel_ended[eel_ended_count++] = number;
        /* The interpreter's care asks whether the type's function is its own, which it is no longer; so the same care is
           taken here. */
        if (eel_depth > 60 && eel_chains(op) && eel_wait(op)) return;
        eel_depth++;
        eel_go(op);
        while (eel_depth == 1 && eel_waiting_count) eel_go(eel_waiting[--eel_waiting_count]);
        eel_depth--;
        if (!eel_depth && eel_waiting) {
            PyMem_RawFree(eel_waiting);
            eel_waiting = NULL;
            eel_waiting_size = 0;
        }
    }
    /* Whether the ends of a type's objects are noticed, from now on. */
    static int eel_follow(PyTypeObject *type) {
        if (type->tp_dealloc == eel_dealloc) return 1;
        if ((type->tp_flags & Py_TPFLAGS_HEAPTYPE) || !type->tp_dealloc || eel_type_count == EEL_MOST_TYPES) return 0;
        if (!eel_exception) eel_exception = ((PyTypeObject *)PyExc_BaseException)->tp_dealloc;
        eel_types[eel_type_count].type = type;
        eel_types[eel_type_count++].original = type->tp_dealloc;
        type->tp_dealloc = eel_dealloc;
        memset(eel_found, 0, sizeof eel_found);
        return 1;
    }
    static int eel_room_for_ended(void) {
        if (eel_ended_size < eel_ended_count + eel_used) {  /* all that are there could go */
            size_t size = 2 * (eel_ended_count + eel_used) + 1024;
            Py_ssize_t *larger = (Py_ssize_t *)PyMem_RawRealloc(eel_ended, size * sizeof(Py_ssize_t));
            if (!larger) return -1;
            eel_ended = larger; eel_ended_size = size;
        }
        return 0;
    }
    static void eel_clear(void) {
        if (eel_used) { memset(eel_table, 0, eel_size * sizeof(eel_entry)); eel_used = 0; }
        eel_ended_count = 0;
    }
    """
    Py_ssize_t eel_get(object key)
    int eel_put(object key, Py_ssize_t number) except -1
    Py_ssize_t eel_number_at "eel_get"(void *key)
    Py_ssize_t eel_drop_at "eel_drop"(void *key)
    bint eel_follow(void *type)
    int eel_room_for_ended() except -1
    void eel_clear()
    Py_ssize_t *eel_ended
    size_t eel_ended_count
    void *eel_method_wrapper

from cpython.object cimport Py_TYPE

eel_method_wrapper = <void *>Py_TYPE(None.__repr__)

cdef class Numbers:
    """One of these at a time: the table is the process's."""

    def __init__(self):
        eel_clear()

    cpdef Py_ssize_t get(self, object obj):
        """The number of an object; -1 for one that has none."""
        return eel_get(obj)

    cpdef object at(self, object key, Py_ssize_t number):
        """The object with this identity, if it lives and still has this number; else None."""
        return <object><void *><size_t>key if eel_number_at(<void *><size_t>key) == number else None

    cpdef bint put(self, object obj, Py_ssize_t number):
        """Gives an object its number. Says whether its end will be noticed here."""
        eel_put(obj, number)
        eel_room_for_ended()
        return eel_follow(<void *>Py_TYPE(obj))

    cpdef Py_ssize_t drop(self, object key):
        """The object with this identity has no number any longer; gives what it was, or -1."""
        return eel_drop_at(<void *><size_t>key)

    def gone(self):
        """The numbers of objects that have gone since this was asked last, of those whose end is noticed here."""
        global eel_ended_count
        found = [eel_ended[place] for place in range(eel_ended_count)]
        eel_ended_count = 0
        return found

    def clear(self):
        """Forgets all."""
        eel_clear()
