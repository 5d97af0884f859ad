"""The name of a loop that is worked with after the loop is over."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, Round, shown
from eelgrass.reading.clues.patterns import collects, is_constant, is_name, mentions, stored_name
from eelgrass.reading.clues.program_text import Site


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each loop that nothing leaves early: its name, or one that each pass stores, is read once it is over."""
    for loop, node in facts.all(ast.For):
        behind = facts.neighbour(loop, 1) if not _leaves(node) else None
        collects_behind = bool(_collected(facts, loop))
        for name in _names(node):
            works = behind is not None and (_works(behind.node) if is_name(node.target, name) else collects_behind)
            if behind is not None and works and mentions(behind.node, name):
                yield from _of_name(facts, loop, behind, name)
    for site in (*facts.all(ast.For), *facts.all(ast.While)):
        yield from _counted_once(facts, site[0]) if not _leaves(site[1]) else ()


def _counted_once(facts: Facts, loop: Site) -> Iterator[Sighting]:
    """Of the statement right behind a loop: it adds a number to a name that was set up just before the loop, in which
    it does not come."""
    name = _collected(facts, loop)
    behind = facts.neighbour(loop, 1) if name else None
    for its in facts.rounds(loop, 4) if behind is not None and _counts(behind.node, name) else ():
        if behind is not None and len(its.starts) > 1 and facts.in_frame(behind, its.frame, its.past, its.past + 1):
            yield _sighting(facts, its, behind, its.past, name, 0.75)
            return


def _sighting(facts: Facts, its: Round, site: Site, step: int, name: str, strength: float) -> Sighting:
    value = shown(facts.asked(name, step, its.frame))
    return Sighting(
        site.number,
        strength,
        {"name": name, "loop": its.loop.node.lineno, "times": len(its.starts), "value": value},
        (
            Evidence(its.starts[0], "The first pass begins.", (Ran(its.loop.number, its.starts[0]),)),
            Evidence(step, f"The loop is over, and “{name}” is {value}.", (Ran(site.number, step),)),
        ),
    )


def _counts(node: ast.stmt, name: str) -> bool:
    """Whether a statement adds a number that is written out to a name."""
    if isinstance(node, ast.AugAssign):
        return isinstance(node.value, ast.Constant)
    value = getattr(node, "value", None)
    return isinstance(value, ast.BinOp) and is_name(value.left, name) and isinstance(value.right, ast.Constant)


def _names(node: ast.For) -> list[str]:
    """The name of a loop, and those that its body stores in each pass anew."""
    own = [its.id for its in ast.walk(node.target) if isinstance(its, ast.Name) and its.id != "_"]
    bodies = [its.targets[0] for its in node.body if isinstance(its, ast.Assign) and not is_constant(its.value)]
    return own + [its.id for target in bodies for its in ast.walk(target) if isinstance(its, ast.Name)]


def _of_name(facts: Facts, loop: Site, behind: Site, name: str) -> Iterator[Sighting]:
    for its in facts.rounds(loop, 4):
        read = facts.next_read(name, its.frame, its.past - 1)
        if read >= 0 and len(its.starts) > 1 and facts.site_at(read) is behind:
            yield _sighting(facts, its, behind, read, name, 0.7)
            break


def _leaves(node: ast.stmt) -> bool:
    return any(isinstance(its, (ast.Break, ast.Return)) for its in ast.walk(node))


def _works(node: ast.stmt) -> bool:
    """Whether a statement does something with a value, rather than only ask about it."""
    return bool(stored_name(node)) or isinstance(node, (ast.Expr, ast.If, ast.AugAssign))


def _collected(facts: Facts, loop: Site) -> str:
    """The name to which the statement right behind a loop adds, which was set up just before the loop and does not
    come in it; '' for none."""
    behind = facts.neighbour(loop, 1)
    for its in (facts.neighbour(loop, -away) for away in (1, 2, 3)):
        starts = its.node if its is not None and isinstance(its.node, ast.Assign) else None
        name = stored_name(starts) if starts is not None and is_constant(starts.value) else ""
        if name and behind is not None and collects(behind.node, name) and not _comes_in(facts, loop, name):
            return name
    return ""


def _comes_in(facts: Facts, loop: Site, name: str) -> bool:
    inside = [loop, *facts.all_in(loop)]
    return any(its in facts.loads(loop.function, name) or its in facts.stores(loop.function, name) for its in inside)


KIND = Kind(
    "after-the-loop",
    "Done once, after the loop",
    "Line {line} works with “{name}” when the loop at line {loop} is over, after {times} passes: it is done once, "
    "when it is {value}. Should it be done in each pass?",
    "the statement right behind a loop works with the loop's own name, or counts a name that was set up before the "
    "loop and does not come in it; and nothing leaves the loop early",
    "middling to strong",
    """\
total = 0
for weight in [12, 30, 25]:
    print("crab of", weight, "grams")
total += weight #!
print("grams:", total)
""",
    """\
total = 0
for weight in [12, 30, 25]:
    print("crab of", weight, "grams")
    total += weight
print("grams:", total)
""",
    find,
)
