"""A slow, plain recorder to judge the real one by: it photographs the variables of the frame at every line event.

Run as a script in a process of its own: `oracle.py OUT PROGRAM [ARGS…]`. Writes JSON Lines: file, line, function,
variables, and these as texts. It looks at values with plain recursion over built-in types, sharing no code with the
recorder. Line events are brought down to statements: CPython reports a line of its own for each part of a statement
that spans several, for the way out of a `with`, for `except` clauses and for a class or function at its own first line.
"""

import ast
import contextlib
import inspect
import json
import opcode
import os
import sys
import threading
import types
from collections import OrderedDict, deque

COMPREHENSIONS = ("<listcomp>", "<setcomp>", "<dictcomp>", "<genexpr>")
#: What CPython does after an exception has gone through a `finally` carries the line of the last statement there.
CLEANING_UP = ("RERAISE", "COPY")
FOR_ITER = opcode.opmap["FOR_ITER"]


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


def fields_of(value, kind):
    if issubclass(kind, type):
        return {name: part for name, part in type.__getattribute__(value, "__dict__").items() if name[:2] != "__"}
    if issubclass(kind, NO_FIELDS):
        return {}
    fields = {}
    for class_ in reversed(kind.__mro__):
        for name, slot in vars(class_).items():
            if type(slot) is types.MemberDescriptorType and name[:2] != "__" and class_.__flags__ & 1 << 9:
                with contextlib.suppress(AttributeError):
                    fields[name] = slot.__get__(value)
    if issubclass(kind, BaseException):
        own = value.__dict__ if kind.__flags__ & 1 << 9 and kind is not BaseException else {}
        fields.update(own)
    elif kind.__flags__ & MANAGED_DICT:
        fields.update(object.__getattribute__(value, "__dict__"))
    return {name: part for name, part in fields.items() if type(name) is str}


class Statements:
    """The statements of one file by line."""

    def __init__(self, file):
        with open(file, "rb") as source:
            tree = ast.parse(source.read())
        self.header = {}
        self._fill(tree)

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


class Photographer:
    def __init__(self, out, folder):
        self.out, self.folder = out, folder
        self.files, self.current = {}, {}

    def trace(self, frame, event, _argument):
        code = frame.f_code
        if not code.co_filename.startswith(self.folder):
            return None
        if event == "line" and code.co_name in COMPREHENSIONS:
            self.comprehension(frame, code)
        elif event == "line" and code.co_name == "<lambda>":
            self.photograph(frame, frame.f_lineno)
        elif event == "line":
            self.line(frame, code)
        elif event == "return":
            self.current.pop(id(frame), None)
        return self.trace

    def comprehension(self, frame, code):
        """Counts the beginning and the end of each innermost pass, whatever lines the parts stand at."""
        loops = [2 * place for place, number in enumerate(code.co_code[::2]) if number == FOR_ITER]
        if not loops or code.co_flags & inspect.CO_COROUTINE:
            return  # an asynchronous one, which counts as one step
        innermost = loops[-1]
        place = frame.f_lasti, frame.f_lineno
        before = self.current.setdefault(id(frame), place)
        if before is place:
            self.photograph(frame, code.co_firstlineno)
        elif frame.f_lasti == innermost:
            # The way in is no pass; it only shows where the parts stand at lines of their own.
            if before[0] == innermost or before[1] == frame.f_lineno:
                self.photograph(frame, code.co_firstlineno)
            self.current[id(frame)] = place

    def line(self, frame, code):
        if code.co_filename not in self.files:
            self.files[code.co_filename] = Statements(code.co_filename)
        if opcode.opname[code.co_code[frame.f_lasti]] in CLEANING_UP:
            return
        node = self.files[code.co_filename].at(frame.f_lineno)
        before = self.current.get(id(frame))
        if node is None or (isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)):
            return
        own_line = isinstance(node, (ast.ClassDef, ast.FunctionDef)) and node.name == code.co_name
        own_line = own_line and node.lineno >= code.co_firstlineno > 0 and frame.f_lineno == code.co_firstlineno
        continued = node is before and node.lineno != node.end_lineno
        way_out = isinstance(node, (ast.With, ast.AsyncWith, ast.Try, ast.TryStar)) and before not in (None, node)
        way_out = way_out and node.lineno <= before.lineno <= node.end_lineno
        if own_line or continued or way_out:
            return
        self.current[id(frame)] = node
        self.photograph(frame, node.lineno)

    def photograph(self, frame, line):
        code = frame.f_code
        in_class = not code.co_flags & 1 and code.co_name != "<module>"
        variables = {
            name: value
            for name, value in list(frame.f_locals.items())
            if not name.startswith(("__", ".")) and name != "_" and (not in_class or name in code.co_names)
        }
        row = {"file": code.co_filename, "line": line, "function": code.co_name}
        row["variables"] = {name: deep(value) for name, value in variables.items()}
        row["texts"] = {name: show(value) for name, value in variables.items()}
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
