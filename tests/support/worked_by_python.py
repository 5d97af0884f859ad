"""A judge of how lines work out: runs a program with every part of every expression handed to it as Python gets there.

Run as a script in a process of its own: `worked_by_python.py OUT PROGRAM [ARGS…]`. Writes JSON Lines, a row for each
time that a statement's expressions were worked out: its place, and the text of each part's value by its place. It
shares no code with what it judges. Parts of lambdas, comprehensions and f-strings, and targets, are left alone.
"""

import ast
import contextlib
import json
import sys

from oracle import show

ROWS = []
CURRENT = {}
CLOSED = (ast.Lambda, ast.ListComp, ast.SetComp, ast.DictComp, ast.GeneratorExp, ast.JoinedStr, ast.Constant)


def begin(line, column):
    row = {"line": line, "column": column, "parts": {}}
    CURRENT[id(sys._getframe(1))] = row
    ROWS.append(row)


def told(place, value):
    row = CURRENT[id(sys._getframe(1))]
    if place not in row["parts"] and len(ROWS) < 4000:
        row["parts"][place] = show(value)
    return value


class Handed(ast.NodeTransformer):
    """Hands on what the expressions of statements give."""

    def hand(self, node):
        if isinstance(node, CLOSED) or not isinstance(getattr(node, "ctx", ast.Load()), ast.Load):
            return node
        place = f"{node.lineno}:{node.col_offset}-{node.end_lineno}:{node.end_col_offset}"
        func = node.func if isinstance(node, ast.Call) else None
        for field, inner in ast.iter_fields(node):
            if isinstance(inner, ast.expr) and inner is not func:
                setattr(node, field, self.hand(inner))
            elif isinstance(inner, list):
                setattr(node, field, [self.hand(one) if isinstance(one, ast.expr) else one for one in inner])
        for keyword in getattr(node, "keywords", []):
            keyword.value = self.hand(keyword.value)
        if isinstance(func, ast.Attribute):
            func.value = self.hand(func.value)
        if isinstance(node, (ast.Slice, ast.Starred)):
            return node
        call = ast.Call(ast.Name("_judge_told", ast.Load()), [ast.Constant(place), node], [])
        return ast.copy_location(call, node)

    def first(self, statement, node):
        numbers = [ast.Constant(statement.lineno), ast.Constant(statement.col_offset)]
        begins = ast.Call(ast.Name("_judge_begin", ast.Load()), numbers, [])
        pair = ast.Tuple([begins, self.hand(node)], ast.Load())
        return ast.copy_location(ast.Subscript(pair, ast.Constant(1), ast.Load()), node)

    def generic_visit(self, node):
        field = {ast.If: "test", ast.While: "test", ast.Assert: "test", ast.For: "iter", ast.Match: "subject"}.get(
            type(node), "value" if isinstance(node, (ast.Assign, ast.Expr, ast.Return)) else None
        )
        is_docstring = isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)
        if field and getattr(node, field) is not None and not is_docstring:
            setattr(node, field, self.first(node, getattr(node, field)))
        for name in ("body", "orelse", "finalbody", "handlers", "cases"):
            inner = getattr(node, name, None)
            if isinstance(inner, list):
                setattr(node, name, [self.visit(one) for one in inner])
        return node


def main():
    out, program = sys.argv[1:3]
    del sys.argv[:2]
    sys.path[0] = program.rpartition("/")[0]
    with open(program, "rb") as file:
        tree = ast.parse(file.read())
    code = compile(ast.fix_missing_locations(Handed().visit(tree)), program, "exec", dont_inherit=True)
    names = {"__name__": "__main__", "__file__": program, "_judge_begin": begin, "_judge_told": told}
    sys.modules["__main__"].__dict__.update(names)
    with contextlib.suppress(BaseException):
        exec(code, sys.modules["__main__"].__dict__)
    with open(out, "w") as file:
        file.writelines(json.dumps(row) + "\n" for row in ROWS)


if __name__ == "__main__":
    main()
