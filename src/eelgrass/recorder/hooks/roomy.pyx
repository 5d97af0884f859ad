# cython: language_level=3, binding=False, boundscheck=False, wraparound=False
"""Hooks that need no room on the call stack, so that a program meets the recursion limit where a plain run does.

A call takes a unit of what the interpreter allows, also a call of a function in C; an element asked of an object in C
takes none. So woven text asks `hook[arguments]`, and the hook gives itself room while it is at work. Each looks first
whether the thread is another one than that of the last hook. Only compiled code can do that; where nothing is compiled,
hooks are called, `Frames` counts, and woven text looks at the thread.
"""

from eelgrass.recorder.hooks.changes cimport Changes
from eelgrass.recorder.hooks.frames cimport Frames
from eelgrass.recorder.hooks.generators cimport Generators
from eelgrass.recorder.hooks.inner_frames cimport InnerFrames
from eelgrass.recorder.hooks.log cimport Log

cdef extern from *:
    """
    #if PY_VERSION_HEX < 0x030C0000
    #define EEL_REMAINING(state) ((state)->recursion_remaining)
    #define EEL_LIMIT(state) ((state)->recursion_limit)
    #else
    #define EEL_REMAINING(state) ((state)->py_recursion_remaining)
    #define EEL_LIMIT(state) ((state)->py_recursion_limit)
    #endif
    static uint64_t eel_telling = UINT64_MAX;  /* an address may come again, an identity does not */
    static inline int eel_open(int units) {
        PyThreadState *state = PyThreadState_Get();
        EEL_REMAINING(state) += units;
        uint64_t identity = PyThreadState_GetID(state);
        if (identity == eel_telling)
            return 0;
        eel_telling = identity;
        return 1;
    }
    static inline void eel_give(int units) { EEL_REMAINING(PyThreadState_Get()) += units; }
    static inline void eel_begin(int units) {
        PyThreadState *state = PyThreadState_Get();
        EEL_REMAINING(state) = EEL_LIMIT(state) - 1 + units;
    }
    """
    bint eel_open(int units)
    void eel_give(int units)
    void eel_begin(int units)

#: Texts from this length on may be cut, which takes code in Python.
cdef Py_ssize_t SHORT = 1024
#: Units that the deepest of the hooks may need.
cdef int ROOM = 400


#: What is told when another thread goes on than the one that was told of last.
cdef object switched = None


def look():
    """Where another thread may have gone on in the middle of a hook: tells that this one does again."""
    if eel_open(0):
        switched()


cdef inline bint is_light(Log log, object value):
    """Whether telling a value runs no code in Python, so that it needs no room."""
    kind = type(value)
    if not log.is_plain:
        return False
    if kind is int or kind is float or value is None or kind is bool:
        return True
    return len(<str>value) < SHORT if kind is str else log.numbers.get(value) >= 0


cdef class Hook:
    """Any hook; the arguments are always a tuple."""

    cdef object function

    def __init__(self, function):
        self.function = function

    def __getitem__(self, tuple arguments):
        cdef bint other
        other = eel_open(ROOM)
        try:
            if other:
                switched()
            return self.function(*arguments)
        finally:
            eel_give(-ROOM)


cdef class Bottom(Hook):
    """As `Hook`, for what is called when a module begins: from the first one on, the units of a plain run count."""

    cdef bint begun

    def __getitem__(self, tuple arguments):
        cdef bint other
        other = eel_open(ROOM)
        try:
            if other:
                switched()
            return self.function(*arguments)
        finally:
            eel_give(-ROOM)
            if not self.begun:
                self.begun = True
                eel_begin(0)


cdef class Event:
    """An event without a value."""

    cdef object events

    def __init__(self, events):
        self.events = events

    def __getitem__(self, tuple arguments):
        cdef bint other
        other = eel_open(0)
        if not other and type(self.events) is list:
            (<list>self.events).append(arguments[0])
            return
        eel_give(ROOM)
        try:
            if other:
                switched()
            self.events.append(arguments[0])
        finally:
            eel_give(-ROOM)


cdef class EventAt:
    """One event, told by `-event`, which is quicker still."""

    cdef object events, code

    def __init__(self, events, code):
        self.events = events
        self.code = code

    def __neg__(self):
        cdef bint other
        other = eel_open(0)
        if not other and type(self.events) is list:
            (<list>self.events).append(self.code)
            return
        eel_give(ROOM)
        try:
            if other:
                switched()
            self.events.append(self.code)
        finally:
            eel_give(-ROOM)


cdef class Tell:
    """`Log.tell`."""

    cdef Log log

    def __init__(self, Log log):
        self.log = log

    def __getitem__(self, tuple arguments):
        cdef bint other
        other = eel_open(0)
        if not other and is_light(self.log, arguments[1]):
            return self.log.tell(arguments[0], arguments[1])
        eel_give(ROOM)
        try:
            if other:
                switched()
            return self.log.tell(arguments[0], arguments[1])
        finally:
            eel_give(-ROOM)


cdef class Noted:
    """`InnerFrames.noted`."""

    cdef InnerFrames inner

    def __init__(self, InnerFrames inner):
        self.inner = inner

    def __getitem__(self, tuple arguments):
        cdef bint other
        other = eel_open(ROOM)
        try:
            if other:
                switched()
            self.inner.noted(arguments[0], arguments[1])
        finally:
            eel_give(-ROOM)


cdef class Bear:
    """`Log.bear`."""

    cdef Log log

    def __init__(self, Log log):
        self.log = log

    def __getitem__(self, tuple arguments):
        cdef bint other
        other = eel_open(0)
        if not other and is_light(self.log, arguments[1]):
            self.log.bear(arguments[0], arguments[1])
            return
        eel_give(ROOM)
        try:
            if other:
                switched()
            self.log.bear(arguments[0], arguments[1])
        finally:
            eel_give(-ROOM)


cdef class Enter:
    """`Frames.enter`."""

    cdef Frames frames

    def __init__(self, Frames frames):
        self.frames = frames

    def __getitem__(self, tuple arguments):
        cdef bint other
        other = eel_open(0)
        if not other and self.frames.has_room():
            self.frames.enter(arguments[0])
            return
        eel_give(ROOM)
        try:
            if other:
                switched()
            self.frames.enter(arguments[0])
        finally:
            eel_give(-ROOM)


cdef class Ready:
    """`Frames.ready`."""

    cdef Frames frames

    def __init__(self, Frames frames):
        self.frames = frames

    def __getitem__(self, tuple arguments):
        cdef bint other
        other = eel_open(0)
        if not other and self.frames.has_room():
            return
        eel_give(ROOM)
        try:
            if other:
                switched()
            self.frames.ready()
        finally:
            eel_give(-ROOM)


cdef class Leave:
    """`Frames.leave`."""

    cdef Frames frames

    def __init__(self, Frames frames):
        self.frames = frames

    def __getitem__(self, tuple arguments):
        cdef bint other
        other = eel_open(0)
        if not other and is_light(self.frames._log, arguments[1]):
            return self.frames.leave(arguments[0], arguments[1])
        eel_give(ROOM)
        try:
            if other:
                switched()
            return self.frames.leave(arguments[0], arguments[1])
        finally:
            eel_give(-ROOM)


cdef class FieldTold:
    """`Changes.field_told`."""

    cdef Changes changes

    def __init__(self, Changes changes):
        self.changes = changes

    def __getitem__(self, tuple arguments):
        cdef bint other
        other = eel_open(0)
        if not other and is_light(self.changes._log, arguments[2]) and self.changes._numbers.get(arguments[1]) >= 0:
            self.changes.field_told(arguments[0], arguments[1], arguments[2])
            return
        eel_give(ROOM)
        try:
            if other:
                switched()
            self.changes.field_told(arguments[0], arguments[1], arguments[2])
        finally:
            eel_give(-ROOM)


cdef class ItemSet:
    """`Changes.item_set`."""

    cdef Changes changes

    def __init__(self, Changes changes):
        self.changes = changes

    def __getitem__(self, tuple arguments):
        cdef bint other
        other = eel_open(ROOM)
        try:
            if other:
                switched()
            self.changes.item_set(arguments[0], arguments[1])
        finally:
            eel_give(-ROOM)


cdef class Suspended:
    """`Generators.suspended`."""

    cdef Generators generators

    def __init__(self, Generators generators):
        self.generators = generators

    def __getitem__(self, tuple arguments):
        cdef bint other
        other = eel_open(ROOM)
        try:
            if other:
                switched()
            return self.generators.suspended(arguments[0], arguments[1], arguments[2])
        finally:
            eel_give(-ROOM)


cdef class Resumed:
    """`Generators.resumed`."""

    cdef Generators generators

    def __init__(self, Generators generators):
        self.generators = generators

    def __getitem__(self, tuple arguments):
        cdef bint other
        other = eel_open(ROOM)
        try:
            if other:
                switched()
            return self.generators.resumed(arguments[0], arguments[1])
        finally:
            eel_give(-ROOM)


cdef class Once:
    """An iterator without elements that calls a function when it is asked for one."""

    cdef object function

    def __init__(self, function):
        self.function = function

    def __iter__(self):
        return self

    def __next__(self):
        cdef bint other
        other = eel_open(ROOM)
        try:
            if other:
                switched()
            self.function()
        finally:
            eel_give(-ROOM)
        raise StopIteration


cdef class Through:
    """An iterator that calls a function before each of the elements of another one is asked for."""

    cdef object function, iterator

    def __init__(self, function, iterable):
        self.function = function
        self.iterator = iter(iterable)

    def __iter__(self):
        return self

    def __next__(self):
        cdef bint other
        other = eel_open(ROOM)
        try:
            if other:
                switched()
            self.function()
        finally:
            eel_give(-ROOM)
        return next(self.iterator)


def roomy(hooks, constants):
    """The hooks by their names, as `constants` has them, in the form in which they need no room."""
    global switched
    switched = hooks.threads.switched
    eel_open(0)  # this thread is the one that is told of
    # Types are compared with, or derived from; only these two are called.
    called = {name: its for name, its in constants.items() if not isinstance(its, type) or name in ("chain", "islice")}
    found = {name: Hook(its) for name, its in called.items() if callable(its)}
    found["bottom"] = Bottom(constants["bottom"])
    found["events.append"] = Event(hooks.log.events)
    found["wholes.append"] = Event(hooks.log.wholes)
    found["texts.append"] = Event(hooks.log.texts)
    found["tell"] = Tell(hooks.log)
    found["noted"] = Noted(hooks.inner)
    found["bear"] = Bear(hooks.log)
    found["enter"] = Enter(hooks.frames)
    found["ready"] = Ready(hooks.frames)
    found["leave"] = Leave(hooks.frames)
    found["field_told"] = FieldTold(hooks.changes)
    found["item_set"] = ItemSet(hooks.changes)
    found["suspended"] = Suspended(hooks.generators)
    found["resumed"] = Resumed(hooks.generators)
    return {**constants, **found}
