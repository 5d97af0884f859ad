"""An iterator that is gone through again when nothing is left in it."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import called, is_name
from eelgrass.reading.clues.program_text import Site

_MAKERS = frozenset(("map", "filter", "zip", "enumerate", "reversed", "iter", "open", "reader"))
_EATERS = frozenset(("list", "tuple", "set", "sum", "max", "min", "sorted", "any", "all", "join", "dict", "len"))


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each name that holds an iterator: two statements go through all of it, one after the other."""
    for site, name, what in _made(facts):
        for visit in facts.visits(site, 4):
            frame = facts.frame(visit)
            is_with = isinstance(site.node, ast.With)
            until = len(facts.trace.steps) if is_with else facts.next_write(name, frame, visit)
            uses = sorted(
                (first, user)
                for user in facts.loads(site.function, name)
                if _goes_through(user.node, name)
                for first in _beginnings(facts, user, frame, visit + 1, until)
            )
            rewound = any(
                "seek" in ast.unparse(its.node)
                for its in facts.loads(site.function, name)
                if not hasattr(its.node, "body")
            )
            if len(uses) >= 2 and not rewound and not _is_left(facts, uses[0][1]):
                (one, first), (two, second) = uses[0], uses[1]
                yield Sighting(
                    second.number,
                    0.9,
                    {"name": name, "what": what, "first": first.node.lineno},
                    (
                        Evidence(one, f"“{name}” is gone through to its end.", (Ran(first.number, one),)),
                        Evidence(two, f"“{name}” is to be gone through again.", (Ran(second.number, two),)),
                    ),
                )
                break


def _made(facts: Facts) -> Iterator[tuple[Site, str, str]]:
    """(statement, name, what it is) for each iterator that is given a name."""
    generators = {its.name for its in facts.trace.program.functions if its.kind == "function" and its.waits}
    for site, node in facts.all(ast.Assign):
        if len(node.targets) == 1 and isinstance(node.targets[0], ast.Name):
            maker = called(node.value)
            if isinstance(node.value, ast.GeneratorExp) or maker in generators:
                yield site, node.targets[0].id, "generator"
            elif maker in _MAKERS:
                yield site, node.targets[0].id, "open file" if maker == "open" else maker
    for site, block in facts.all(ast.With):
        for item in block.items:
            if called(item.context_expr) == "open" and isinstance(item.optional_vars, ast.Name):
                yield site, item.optional_vars.id, "open file"


def _goes_through(node: ast.stmt, name: str) -> bool:
    if isinstance(node, ast.For):
        return is_name(node.iter, name)
    parts = [node.test] if isinstance(node, (ast.If, ast.While)) else [node] if not hasattr(node, "body") else []
    for its in (part for own in parts for part in ast.walk(own)):
        if isinstance(its, ast.Call) and called(its) in _EATERS and any(is_name(arg, name) for arg in its.args):
            return True
        if (
            isinstance(its, ast.Call)
            and isinstance(its.func, ast.Attribute)
            and its.func.attr in ("read", "readlines")
            and not its.args
        ) and is_name(its.func.value, name):
            return True
        if isinstance(its, ast.comprehension) and is_name(its.iter, name):
            return True
    return False


def _beginnings(facts: Facts, user: Site, frame: int, since: int, until: int) -> list[int]:
    """The steps at which a statement began to go through: of a loop, once for each round."""
    if isinstance(user.node, ast.For):
        rounds = [its for its in facts.rounds(user, 12) if its.frame == frame and since <= its.first < until]
        return [its.first for its in rounds]
    return facts.in_frame(user, frame, since, until)[:3]


def _is_left(facts: Facts, user: Site) -> bool:
    """Whether a loop may be left before the end of what it goes through."""
    return isinstance(user.node, ast.For) and any(
        isinstance(its, (ast.Break, ast.Return)) for its in ast.walk(user.node)
    )


KIND = Kind(
    "used-up",
    "Gone through once already",
    "“{name}” is of the kind that can be gone through once ({what}): line {first} did, to its end, so line {line} "
    "found nothing left in it. Is it needed twice?",
    "a generator, an iterator or an open file was gone through to its end by two statements, one after the other",
    "strong",
    """\
depths = map(int, ["4", "6", "9"])
print("sum:", sum(depths))
for depth in depths: #!
    print("depth", depth)
""",
    """\
depths = list(map(int, ["4", "6", "9"]))
print("sum:", sum(depths))
for depth in depths:
    print("depth", depth)
""",
    find,
)
