"""A class that nobody wrote: a generated program, by other hands and with small errors, and what plain Python makes of
each."""

from __future__ import annotations

import ast
import os
import random
import re
import subprocess
import sys
from pathlib import Path

from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.exercises.exercise import Exercise
from support import first_year
from support.rewritten import moved, renamed

_PATIENCE_SECONDS = 5
_COMPARED = (ast.Lt, ast.LtE, ast.Gt, ast.GtE, ast.Eq, ast.NotEq)
_WORKED_OUT = (ast.Add, ast.Sub, ast.Mult)


class _Mutant(ast.NodeTransformer):
    """Makes one of the places that could be otherwise so."""

    def __init__(self, chance: random.Random, which: int) -> None:
        self._chance, self._left = chance, which

    def _is_chosen(self) -> bool:
        self._left -= 1
        return self._left == -1

    def visit_Compare(self, node: ast.Compare) -> ast.AST:
        self.generic_visit(node)
        if isinstance(node.ops[0], _COMPARED) and self._is_chosen():
            node.ops[0] = self._chance.choice(_COMPARED)()
        return node

    def visit_BinOp(self, node: ast.BinOp) -> ast.AST:
        self.generic_visit(node)
        if isinstance(node.op, _WORKED_OUT) and self._is_chosen():
            node.op = self._chance.choice(_WORKED_OUT)()
        return node

    def visit_Constant(self, node: ast.Constant) -> ast.AST:
        if type(node.value) is int and self._is_chosen():
            node.value += self._chance.choice((-1, 1))
        return node


def class_of(seed: int, count: int) -> tuple[first_year.FirstYear, list[str]]:
    """A program, and so many texts of a class that was to write it."""
    chance, its = random.Random(seed), first_year.program(seed)
    texts = [its.text]
    while len(texts) < count:
        text = its.text
        if chance.random() < 0.7:
            mutant = _Mutant(chance, chance.randrange(30))
            text = ast.unparse(ast.fix_missing_locations(mutant.visit(ast.parse(text))))
        hand = chance.choice((renamed, lambda text: moved(text, chance), lambda text: f"# mine\n{text}"))
        texts.append(hand(text))
    return its, texts


def by_plain_python(text: str, typed: bytes, folder: Path) -> tuple[str, str] | None:
    """(the exception that a plain run ends with, or '', what it prints); None where it does not end."""
    folder.mkdir()
    program = folder / "program.py"
    program.write_text(text)
    environment = dict(os.environ, PYTHONHASHSEED="1")
    try:
        done = subprocess.run(
            [sys.executable, str(program)],
            input=typed,
            capture_output=True,
            cwd=folder,
            env=environment,
            timeout=_PATIENCE_SECONDS,
            check=False,
        )
    except subprocess.TimeoutExpired:
        return None
    last = done.stderr.decode().strip().rpartition("\n")[2]
    raised = re.match(r"(\w+)(:|$)", last) if b"Traceback" in done.stderr and done.returncode == 1 else None
    return raised[1] if raised else "", done.stdout.decode().rstrip()


def exercise_of(its: first_year.FirstYear, output: str, folder: Path) -> Exercise:
    """An exercise with the program as its own and its model, and one case."""
    folder.mkdir()
    program = folder / "program.py"
    program.write_text(its.text)
    lines = tuple(its.typed.decode().splitlines())
    return Exercise(
        folder, program, "Generated", cases=(Case("as written", input=lines, ends_input=True, output=output),)
    )
