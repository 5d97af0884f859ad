# cython: language_level=3, binding=False, boundscheck=False, wraparound=False
"""Hooks that need no room on the call stack, so that a program meets the recursion limit where a plain run does.

A call takes a unit of what the interpreter allows, also a call of a function in C; an element asked of an object in C
takes none. So woven text asks `hook[arguments]`, and the hook gives itself room while it is at work. Each looks first
whether the thread is another one than that of the last hook. Only compiled code can do that; where nothing is compiled,
hooks are called, `Frames` counts, and woven text looks at the thread.
"""

from cpython.pystate cimport PyFrameObject

from eelgrass.recorder.hooks.changes.changes cimport Changes
from eelgrass.recorder.hooks.changes.held cimport Held
from eelgrass.recorder.hooks.frames cimport Frames
from eelgrass.recorder.hooks.generators cimport Generators
from eelgrass.recorder.hooks.inner_frames cimport InnerFrames
from eelgrass.recorder.hooks.log cimport _LONG, Log
from eelgrass.recorder.hooks.room cimport EEL_ROOM, eel_give

cdef extern from *:
    """
    static uint64_t eel_telling = UINT64_MAX;  /* an address may come again, an identity does not */
    static inline int eel_other_thread(void) {
        return PyThreadState_GetID(PyThreadState_Get()) != eel_telling;
    }
    static inline void eel_this_thread(void) { eel_telling = PyThreadState_GetID(PyThreadState_Get()); }
    static uint64_t eel_main = UINT64_MAX;  /* the thread in which signals are handled */
    static inline void eel_is_main_thread(void) { eel_main = PyThreadState_GetID(PyThreadState_Get()); }
    static inline int eel_in_main_thread(void) { return PyThreadState_GetID(PyThreadState_Get()) == eel_main; }
    static inline void eel_count_from_here(int units) {  /* as if this frame were the first one, and had so many more */
        PyThreadState *state = PyThreadState_Get();
        EEL_REMAINING(state) = EEL_LIMIT(state) - 1 + units;
    }
    """
    PyFrameObject *PyEval_GetFrame()  # borrowed
    bint eel_other_thread()
    void eel_this_thread()
    void eel_is_main_thread()
    bint eel_in_main_thread()
    void eel_count_from_here(int units)

#: What is told when another thread goes on than the one that was told of last.
cdef object switched = None


def look():
    """Where another thread may have gone on in the middle of a hook: tells that this one does again."""
    if eel_other_thread():
        eel_this_thread()
        switched()


cdef inline bint is_light(Log log, object value):
    """Whether telling a value runs no code in Python, so that it needs no room."""
    kind = type(value)
    if not log.is_plain:
        return False
    if kind is int or kind is float or value is None or kind is bool:
        return True
    return len(<str>value) < _LONG if kind is str else log.numbers.get(value) >= 0


#: How many hooks are in the middle of something in the main thread.
cdef int at_work = 0


def is_at_work():
    """Whether a hook is in the middle of something that other code should not come into."""
    return at_work > 0


cdef class Asked:
    """A hook. `given` are its arguments. While it is at work, no handler of a signal comes in, if it `is_closed`."""

    cdef bint is_closed

    def __cinit__(self):
        self.is_closed = True

    cdef object run(self, tuple given):
        """What it does, and gives."""
        raise NotImplementedError

    cdef bint needs_room(self, tuple given):
        """Whether code in Python may run for it."""
        return True

    cdef object ask(self, tuple given):
        """Runs it, in the thread that is told of, with room where it needs any."""
        cdef bint other = eel_other_thread()
        cdef bint closed
        global at_work
        if not other and not self.needs_room(given):
            return self.run(given)
        closed = self.is_closed and eel_in_main_thread()
        eel_give(EEL_ROOM)
        at_work += closed
        try:
            if other:
                eel_this_thread()
                switched()
            return self.run(given)
        finally:
            at_work -= closed
            eel_give(-EEL_ROOM)

    def __getitem__(self, tuple given):
        return self.ask(given)


cdef class Hook(Asked):
    """Any function as a hook."""

    cdef object function

    def __init__(self, function):
        self.function = function

    cdef object run(self, tuple given):
        return self.function(*given)


cdef class Asking(Hook):
    """A function that asks the program's objects for iterators, so that it is the program's code that is at work."""

    def __cinit__(self):
        self.is_closed = False


#: Whether the units of a plain run count.
cdef bint is_counting = False


def count_from_caller():
    """What the caller's caller calls next, at the bottom, is the first frame of a plain run."""
    global is_counting
    is_counting = True
    eel_count_from_here(0)


cdef class Bottom(Hook):
    """What is called when a module begins: from the first one on, the units of a plain run count."""

    cdef object run(self, tuple given):
        global is_counting
        self.function()
        if not is_counting:
            is_counting = True
            eel_count_from_here(EEL_ROOM)


cdef class Append(Asked):
    """Puts something into one of the log's lists."""

    cdef object to

    def __init__(self, to):
        self.to = to

    cdef bint needs_room(self, tuple given):
        return type(self.to) is not list

    cdef object run(self, tuple given):
        self.to.append(given[0])


cdef class EventAt(Append):
    """One event, told by `-event`, which is quicker still."""

    cdef tuple code

    def __init__(self, events, code):
        self.to = events
        self.code = (code,)

    def __neg__(self):
        if type(self.to) is list and not eel_other_thread():  # the hottest of all hooks
            (<list>self.to).append(self.code[0])
        else:
            self.ask(self.code)


cdef class OfLog(Asked):
    """A hook of the log."""

    cdef Log log

    def __init__(self, Log log):
        self.log = log

    cdef bint needs_room(self, tuple given):
        return not is_light(self.log, given[1])


cdef class Tell(OfLog):
    """`Log.tell`."""

    cdef object run(self, tuple given):
        return self.log.tell(given[0], given[1])


cdef class Bear(OfLog):
    """`Log.bear`."""

    cdef object run(self, tuple given):
        self.log.bear(given[0], given[1])


cdef class OfFrames(Asked):
    """A hook of the frames."""

    cdef Frames frames

    def __init__(self, Frames frames):
        self.frames = frames

    cdef bint needs_room(self, tuple given):
        return not self.frames.has_room()


cdef class Enter(OfFrames):
    """`Frames.enter`."""

    cdef object run(self, tuple given):
        self.frames.enter(given[0])


cdef class Ready(OfFrames):
    """`Frames.ready`."""

    cdef object run(self, tuple given):
        self.frames.ready()


cdef class Leave(OfFrames):
    """`Frames.leave`."""

    cdef bint needs_room(self, tuple given):
        return not is_light(self.frames._log, given[1])

    cdef object run(self, tuple given):
        return self.frames.leave(given[0], given[1])


cdef class Noted(Asked):
    """`InnerFrames.noted`."""

    cdef InnerFrames inner

    def __init__(self, InnerFrames inner):
        self.inner = inner

    cdef object run(self, tuple given):
        self.inner.noted(given[0], given[1])


cdef class OfChanges(Asked):
    """A hook of the changes."""

    cdef Changes changes

    def __init__(self, Changes changes):
        self.changes = changes


cdef class FieldTold(OfChanges):
    """`Changes.field_told`."""

    cdef bint needs_room(self, tuple given):
        return not is_light(self.changes._log, given[2]) or self.changes._numbers.get(given[1]) < 0

    cdef object run(self, tuple given):
        self.changes.field_told(given[0], given[1], given[2])


cdef class ItemSet(OfChanges):
    """`Changes.item_set`."""

    cdef object run(self, tuple given):
        self.changes.item_set(given[0], given[1])


cdef class Called(OfChanges):
    """`Changes.called`."""

    cdef object run(self, tuple given):
        return self.changes.called(given[0], given[1], given[2], given[3])


cdef class Hold(Asked):
    """`Held.hold`, by the frame that asks."""

    cdef Held held

    def __init__(self, Held held):
        self.held = held

    cdef bint needs_room(self, tuple given):
        return False

    cdef object run(self, tuple given):
        self.held.keep(<size_t>PyEval_GetFrame(), given[0])
        return given[0]


cdef class Take(Hold):
    """`Held.take`, by the frame that asks."""

    cdef object run(self, tuple given):
        return self.held.take_back(<size_t>PyEval_GetFrame())


cdef class OfGenerators(Asked):
    """A hook of the generators."""

    cdef Generators generators

    def __init__(self, Generators generators):
        self.generators = generators


cdef class Suspended(OfGenerators):
    """`Generators.suspended`."""

    cdef object run(self, tuple given):
        return self.generators.suspended(given[0], given[1], given[2])


cdef class Resumed(OfGenerators):
    """`Generators.resumed`."""

    cdef object run(self, tuple given):
        return self.generators.resumed(given[0], given[1])


cdef class Once(Hook):
    """An iterator without elements that calls a function when it is asked for one."""

    def __iter__(self):
        return self

    def __next__(self):
        self.ask(())
        raise StopIteration


cdef class Through(Hook):
    """An iterator that calls a function before each of the elements of another one is asked for."""

    cdef object iterator

    def __init__(self, function, iterable):
        self.function = function
        self.iterator = iter(iterable)

    def __iter__(self):
        return self

    def __next__(self):
        self.ask(())
        return next(self.iterator)


cdef class OfOne(Hook):
    """A function of one argument, for what is not woven text."""

    def __call__(self, value):
        return self.ask((value,))


_ASKING = ("chain", "islice", "iter")


def roomy(hooks, constants):
    """The hooks by their names, as `constants` has them, in the form in which they need no room."""
    global is_counting, switched
    is_counting = False
    switched = hooks.threads.switched
    eel_this_thread()
    eel_is_main_thread()
    # Types are compared with, or derived from; only those that ask for iterators are called.
    called = {name: its for name, its in constants.items() if not isinstance(its, type) or name in _ASKING}
    log, frames, changes, generators = hooks.log, hooks.frames, hooks.changes, hooks.generators
    return {
        **constants,
        **{name: (Asking if name in _ASKING else Hook)(its) for name, its in called.items() if callable(its)},
        "bottom": Bottom(constants["bottom"]),
        "events.append": Append(log.events),
        "wholes.append": Append(log.wholes),
        "texts.append": Append(log.texts),
        "tell": Tell(log),
        "bear": Bear(log),
        "noted": Noted(hooks.inner),
        "enter": Enter(frames),
        "ready": Ready(frames),
        "leave": Leave(frames),
        "field_told": FieldTold(changes),
        "item_set": ItemSet(changes),
        "called": Called(changes),
        "hold": Hold(changes.held),
        "take": Take(changes.held),
        "suspended": Suspended(generators),
        "resumed": Resumed(generators),
    }
