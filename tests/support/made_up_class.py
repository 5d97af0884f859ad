"""A made-up class: programs of twelve behaviours for three exercises of the demo lesson, each written by many hands."""

from __future__ import annotations

import ast
import random
from collections.abc import Callable
from pathlib import Path

from eelgrass.lessons.demo_lesson import FOLDER
from support.rewritten import moved, renamed

#: By exercise, for each behaviour what is otherwise in the model: a text, and what stands in its place.
BEHAVIOURS: dict[str, tuple[tuple[str, str], ...]] = {
    "shoot_count": (
        ("", ""),
        ("range(len(counts))", "range(1, len(counts))"),
        ("total + counts[bed]", "total - counts[bed]"),
        ("def report(counts):", "def report(counts)"),
        ("total_shoots", "shoots_in_all"),
    ),
    "high_tide": (
        ("", ""),
        ("levels.append(int(answer))", "levels.append(answer)"),
        ("level > top", "level < top"),
        ("break", "continue"),
    ),
    "seahorse_tally": (("", ""), ("counts.get(place, 0)", "counts[place]"), ("+ 1", "+ 2")),
}


def model_of(exercise: str) -> str:
    """The text of an exercise's model."""
    return (FOLDER / exercise / "sealed" / f"{exercise}.py").read_text()


def text_of(exercise: str, behaviour: int, seed: int) -> str:
    """A program of a behaviour as somebody else would write it: with other names, in another order, laid out anew."""
    chance = random.Random(seed)
    before, after = BEHAVIOURS[exercise][behaviour]
    text = model_of(exercise).replace(before, after) if before else model_of(exercise)
    hands: list[Callable[[str], str]] = [renamed, lambda its: moved(its, chance), _shorter, lambda its: its]
    try:
        for _ in range(2):
            text = chance.choice(hands)(text)
    except SyntaxError:  # a broken one is only laid out otherwise
        text = text.replace("\n\n\n", "\n\n") if chance.random() < 0.5 else f"# mine\n{text}"
    return text


def _shorter(text: str) -> str:
    """With `x += y` for `x = x + y`, as it is written anew by Python."""
    return ast.unparse(ast.fix_missing_locations(_Shorter().visit(ast.parse(text))))


class _Shorter(ast.NodeTransformer):
    def visit_Assign(self, node: ast.Assign) -> ast.stmt:
        target, value = node.targets[0], node.value
        is_sum = isinstance(target, ast.Name) and isinstance(value, ast.BinOp)
        if is_sum and ast.unparse(value.left) == ast.unparse(target):
            return ast.AugAssign(target, value.op, value.right)
        return node


def make(exercise: str, folder: Path, many: int, seed: int = 0) -> dict[str, int]:
    """Writes so many hand-ins for each behaviour, some of them under other names of files; gives the behaviour of each
    by its name."""
    chance, made = random.Random(seed), dict[str, int]()
    for behaviour in range(len(BEHAVIOURS[exercise])):
        for number in range(many):
            name = f"keeper {len(made):03}"
            made[name] = behaviour
            (folder / name).mkdir()
            file = chance.choice((f"{exercise}.py", f"{exercise} ({number}).py", "Main.py"))
            (folder / name / file).write_text(text_of(exercise, behaviour, seed + 1000 * behaviour + number))
    return made
