"""A slow, plain recorder to judge the real one by: it photographs the variables of the frame at every line event.

Run as a script in a process of its own: `oracle.py OUT PROGRAM [ARGS…]`. Writes JSON Lines: file, line, function,
variables. It looks at values with plain recursion over built-in types, sharing no code with the recorder. Line events
are brought down to statements: CPython reports a line of its own for each part of a statement that spans several, for
the way out of a `with`, for `except` clauses and for a class or function at its own first line.
"""

import ast
import inspect
import json
import opcode
import os
import sys
import threading
import types

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
            name: show(value)
            for name, value in list(frame.f_locals.items())
            if not name.startswith(("__", ".")) and name != "_" and (not in_class or name in code.co_names)
        }
        row = {"file": code.co_filename, "line": line, "function": code.co_name, "variables": variables}
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
