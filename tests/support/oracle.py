"""A slow, plain recorder to judge the real one by: it photographs the variables of the frame at every line event.

Run as a script in a process of its own: `oracle.py OUT PROGRAM [ARGS…]`. Writes JSON Lines: file, line, function,
variables, and these as texts. It looks at values with plain recursion over built-in types, sharing no code with the
recorder. Line events are brought down to statements: CPython reports a line of its own for each part of a statement
that spans several, for the way out of a `with`, for `except` clauses and for a class or function at its own first line.
"""

import ast
import contextlib
import datetime
import dis
import inspect
import itertools
import json
import opcode
import os
import sys
import threading
import types
from collections import OrderedDict, deque
from decimal import Decimal

COMPREHENSIONS = ("<listcomp>", "<setcomp>", "<dictcomp>", "<genexpr>")
#: No statement begins with these: what CPython does after an exception has gone through a `finally` carries the line
#: of the last statement there; what it goes on with after a chain of comparisons that of the statement (3.12); and so
#: after an exception has gone through a comprehension, or into a `yield from`.
NEVER_FIRST = ("RERAISE", "COPY", "CALL", "SWAP", "CLEANUP_THROW")
FOR_ITER = opcode.opmap["FOR_ITER"]
#: Where a pass of a loop begins, and the way there, one of which has a line event of its own.
PASSES, BACK = ("FOR_ITER", "GET_ANEXT", "END_ASYNC_FOR"), ("JUMP_BACKWARD", "JUMP_BACKWARD_NO_INTERRUPT")
#: Comprehensions that are part of their frame, from Python 3.12 on; the oracle sees nothing of what happens in them.
INLINED = (ast.ListComp, ast.SetComp, ast.DictComp) if sys.version_info >= (3, 12) else ()
#: What annotations and type parameters are worked out in, which is no scope of the program's (3.12, 3.14).
NO_SCOPES = ("__annotate__", "<generic parameters of ")
#: Functions whose generator expression is gone through by the calling frame itself, from Python 3.14 on.
GOING_THROUGH = ("any", "all", "tuple") if sys.version_info >= (3, 14) else ()


def show(value, inside=()):
    """What `repr` prints for plain values; `<Typename>` for anything else."""
    kind = type(value)
    if value is None or value is ... or kind in (int, float, str, bool, bytes, complex):
        return repr(value)
    if id(value) in inside:
        return {list: "[...]", dict: "{...}"}.get(kind, "(...)")
    deeper = (*inside, id(value))
    if kind is list:
        return "[" + ", ".join([show(part, deeper) for part in value]) + "]"
    if kind is tuple:
        return "(" + ", ".join([show(part, deeper) for part in value]) + ("," if len(value) == 1 else "") + ")"
    if kind is dict:
        return "{" + ", ".join([show(key, deeper) + ": " + show(part, deeper) for key, part in value.items()]) + "}"
    if kind in (set, frozenset):
        body = "{" + ", ".join([show(part, deeper) for part in value]) + "}" if value else ""
        return (body or "set()") if kind is set else f"frozenset({body})"
    return "<" + kind.__name__ + ">"


CONTAINERS = (dict, list, tuple, set, frozenset, deque, bytearray)
NO_FIELDS = (types.FunctionType, types.BuiltinFunctionType, types.MethodType, types.ModuleType, tuple, frozenset, deque)
MANAGED_DICT = 1 << 4


def is_whole(value, inside=()):
    """Whether there are only literals in a value."""
    kind = type(value)
    if kind in (list, tuple, set, frozenset, dict):
        if id(value) in inside:
            return True
        parts = [*value, *value.values()] if kind is dict else value
        return all([is_whole(part, (*inside, id(value))) for part in parts])
    return value is None or value is ... or kind in (int, float, str, bool, bytes, complex)


def deep(value, inside=()):
    """As `show`, with what is in objects: their fields, and the elements of containers that are no plain literals."""
    is_inside = id(value) in inside and type(value) is not tuple  # short tuples are values, the same everywhere
    if is_whole(value) or is_inside or len(inside) > 5:
        return show(value)
    kind, deeper = type(value), (*inside, id(value))
    base = next((base for base in CONTAINERS if issubclass(kind, base)), None)
    held = {"type": kind.__name__}
    if base is dict:
        # An OrderedDict goes through its keys in an order of its own, which it can be asked for only where that runs
        # no code of the program.
        parts = [part for key in dict.keys(value) for part in (key if type(key) is tuple else (key,))]
        plain = all(type(part) in (int, str, type(None)) for part in parts)
        ordered = issubclass(kind, OrderedDict) and plain
        pairs = list(OrderedDict.items(value)) if ordered else list(dict.items(value))
        held["items"] = [[deep(key, deeper), deep(part, deeper)] for key, part in pairs]
    elif base is not None:
        held["items"] = [deep(part, deeper) for part in base.__iter__(value)]
    if base in (set, frozenset):
        held["in any order"] = True
    fields = fields_of(value, kind)
    if fields and is_a_librarys(kind):
        held["a library's"] = True
    elif fields:
        held["fields"] = {name: deep(part, deeper) for name, part in fields.items()}
    return held if len(held) > 1 else show(value)


def is_a_librarys(kind):
    """Whether what a class keeps in its fields is a library's affair; containers written in Python are not meant."""
    module = sys.modules.get(kind.__module__)
    name = getattr(module, "__file__", None) or ""
    return "/lib/python" in name and kind.__module__ != "collections"


def value_of(value, kind):
    """The number or text that an object is, where its class derives from such."""
    for base, plain in ((int, int.__int__), (float, float.__float__), (str, str.__str__)):
        if issubclass(kind, base):
            return plain(value)
    return (
        str(value) if kind in (Decimal, datetime.date, datetime.time, datetime.datetime, datetime.timedelta) else None
    )


def fields_of(value, kind):
    if issubclass(kind, type):
        return {name: part for name, part in type.__getattribute__(value, "__dict__").items() if name[:2] != "__"}
    if issubclass(kind, NO_FIELDS):
        return {}
    fields = {"(value)": value_of(value, kind)} if value_of(value, kind) is not None else {}
    for class_ in reversed(kind.__mro__):
        for name, slot in vars(class_).items():
            if type(slot) is types.MemberDescriptorType and name[:2] != "__" and class_.__flags__ & 1 << 9:
                with contextlib.suppress(AttributeError):
                    fields[name] = slot.__get__(value)
    if issubclass(kind, BaseException):
        own = value.__dict__ if kind.__flags__ & 1 << 9 and kind is not BaseException else {}
        fields.update(own)
    elif kind.__flags__ & MANAGED_DICT:
        with contextlib.suppress(AttributeError):
            fields.update(object.__getattribute__(value, "__dict__"))
    return {name: part for name, part in fields.items() if type(name) is str}


WRITTEN = (Decimal, datetime.date, datetime.time, datetime.datetime, datetime.timedelta)


class Statements:
    """The statements of one file by line."""

    def __init__(self, file):
        with open(file, "rb") as source:
            tree = ast.parse(source.read())
        self.header = {}
        self._fill(tree)
        self.inlined = [
            ((node.lineno, node.col_offset), (node.end_lineno, node.end_col_offset))
            for node in ast.walk(tree)
            if isinstance(node, INLINED) or is_going_through(node)
        ]

    def _fill(self, parent):
        for node in ast.iter_child_nodes(parent):
            if isinstance(node, ast.stmt):
                body = getattr(node, "body", getattr(node, "cases", None))
                first = self._first_line(node)
                inner = body[0].pattern if isinstance(node, ast.Match) else body[0] if body else None
                last = max(node.lineno, self._first_line(inner) - 1) if inner else node.end_lineno
                for line in range(first, last + 1):
                    self.header.setdefault(line, node)
            self._fill(node)

    def _first_line(self, node):
        return min([node.lineno, *[item.lineno for item in getattr(node, "decorator_list", [])]])

    def at(self, line):
        return self.header.get(line)

    def is_inlined(self, place):
        """Whether an instruction's (line, column) lies in a comprehension that is part of its frame."""
        return any(begin <= place < end for begin, end in self.inlined)


def is_going_through(node):
    return isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in GOING_THROUGH


def is_idle(node):
    """Whether it depends on the version whether anything runs for a statement: `tide: int`."""
    return sys.version_info >= (3, 14) and isinstance(node, ast.AnnAssign) and node.value is None


def target(code, place):
    """Where an instruction on the way back to a loop's next pass leads; the place itself for any other."""
    if opcode.opname[code.co_code[place]] not in BACK:
        return place
    return next(its.argval for its in dis.get_instructions(code) if its.offset == place)


def waits(frame):
    """Whether a coroutine's frame waits for another one, in the middle of its statement."""
    suspends = opcode.opname[frame.f_code.co_code[frame.f_lasti]] in ("YIELD_VALUE", "SEND", "RESUME")
    return suspends and frame.f_code.co_flags & (inspect.CO_COROUTINE | inspect.CO_ASYNC_GENERATOR)


class Photographer:
    def __init__(self, out, folder):
        self.out, self.folder, self.turn = out, folder, threading.Lock()
        self.files, self.current = {}, {}

    def trace(self, frame, event, _argument):
        code = frame.f_code
        if not code.co_filename.startswith(self.folder) or code.co_name.startswith(NO_SCOPES):
            return None
        if event == "line" and code.co_name in COMPREHENSIONS:
            self.comprehension(frame, code)
        elif event == "line" and code.co_name == "<lambda>":
            self.photograph(frame, frame.f_lineno)
        elif event == "line":
            self.line(frame, code)
        elif event == "return" and not waits(frame):
            self.current.pop(id(frame), None)
        return self.trace

    def comprehension(self, frame, code):
        """Counts the beginning and the end of each innermost pass, whatever lines the parts stand at."""
        loops = [2 * place for place, number in enumerate(code.co_code[::2]) if number == FOR_ITER]
        if not loops or code.co_flags & inspect.CO_COROUTINE:
            return  # an asynchronous one, which counts as one step
        innermost = loops[-1]
        place = target(code, frame.f_lasti), frame.f_lineno
        before = self.current.setdefault(id(frame), place)
        if before is place:
            self.photograph(frame, code.co_firstlineno)
        elif place[0] == innermost:
            # The way in is no pass; it only shows where the parts stand at lines of their own.
            if before[0] == innermost or before[1] == frame.f_lineno:
                self.photograph(frame, code.co_firstlineno)
            self.current[id(frame)] = place

    def line(self, frame, code):
        if code.co_filename not in self.files:
            self.files[code.co_filename] = Statements(code.co_filename)
        operation = opcode.opname[code.co_code[frame.f_lasti]]
        if operation in NEVER_FIRST:
            return
        if operation in (*PASSES, *BACK) and self.is_inlined_pass(code, frame.f_lasti):
            return
        node = self.files[code.co_filename].at(frame.f_lineno)
        before = self.current.get(id(frame))
        if node is None or is_idle(node) or (isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)):
            return
        if type(node).__name__ == "TypeAlias" and node.name.id == code.co_name:
            return  # it is worked out late, in a frame of its own
        own_line = isinstance(node, (ast.ClassDef, ast.FunctionDef)) and node.name == code.co_name
        own_line = own_line and node.lineno >= code.co_firstlineno > 0 and frame.f_lineno == code.co_firstlineno
        continued = node is before and node.lineno != node.end_lineno
        way_out = isinstance(node, (ast.With, ast.AsyncWith, ast.Try, ast.TryStar)) and before not in (None, node)
        way_out = way_out and node.lineno <= before.lineno <= node.end_lineno
        if own_line or continued or way_out:
            return
        self.current[id(frame)] = node
        self.photograph(frame, node.lineno)

    def is_inlined_pass(self, code, place):
        """Whether a pass of a comprehension that is part of its frame begins."""
        if not self.files[code.co_filename].inlined:
            return False
        line, _, column, _ = next(itertools.islice(code.co_positions(), target(code, place) // 2, None))
        return line is not None and self.files[code.co_filename].is_inlined((line, column))

    def photograph(self, frame, line):
        code = frame.f_code
        in_class = not code.co_flags & 1 and code.co_name != "<module>"
        # Python 3.12 gives locals of a module that are out of date where it has comprehensions.
        found = frame.f_globals if code.co_name == "<module>" else frame.f_locals
        variables = {
            name: value
            for name, value in list(found.items())
            if not name.startswith(("__", ".")) and name != "_" and (not in_class or name in code.co_names)
        }
        row = {
            "file": code.co_filename,
            "line": line,
            "function": code.co_name,
            "in thread": threading.current_thread().name,
        }
        row["variables"] = {name: deep(value) for name, value in variables.items()}
        row["texts"] = {name: show(value) for name, value in variables.items()}
        with self.turn:
            self.out.write(json.dumps(row) + "\n")


def main():
    out_name, program, *arguments = sys.argv[1:]
    with open(program, "rb") as file:
        code = compile(file.read(), os.path.abspath(program), "exec", dont_inherit=True)
    sys.argv[:] = [program, *arguments]
    folder = os.path.dirname(os.path.abspath(program))
    sys.path[0] = folder
    module = types.ModuleType("__main__")
    module.__file__ = os.path.abspath(program)
    sys.modules["__main__"] = module
    sys.dont_write_bytecode = True
    with open(out_name, "w") as out:
        photographer = Photographer(out, folder + os.sep)
        threading.settrace(photographer.trace)
        sys.settrace(photographer.trace)
        try:
            exec(code, module.__dict__)
        finally:
            sys.settrace(None)


if __name__ == "__main__":
    main()
