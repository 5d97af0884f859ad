"""Functions made in a loop that all look at the loop's name when they are called."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran, worth
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.program_text import Site
from eelgrass.reading.expressions.source_tree import own_parts


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each function made in a loop that reads the loop's name: it was called when the loop was over."""
    for site, body, function in _made_in_loops(facts):
        loop = facts.loop_around(site)
        while loop is not None and not isinstance(loop.node, ast.For):
            loop = facts.loop_around(loop)
        if loop is None or not isinstance(loop.node, ast.For):
            continue
        own = {its.id for its in ast.walk(loop.node.target) if isinstance(its, ast.Name)}
        read = sorted({its.id for its in ast.walk(body) if isinstance(its, ast.Name)} & own)
        if read and function >= 0:
            yield from _told(facts, site, loop, function, read[0])


def _made_in_loops(facts: Facts) -> Iterator[tuple[Site, ast.AST, int]]:
    """(statement, the function's body, its number) of each function that a statement in a loop makes."""
    for site in facts.sites:
        if facts.loop_around(site) is None:
            continue
        if isinstance(site.node, ast.FunctionDef):
            params = {its.arg for its in site.node.args.args}
            yield (
                site,
                ast.Module([its for its in site.node.body if not params & _stored(its)], []),
                _number(facts, site.node.name, site.node.lineno),
            )
            continue
        for part in (its for own in own_parts(site.node) for its in ast.walk(own)):
            if isinstance(part, ast.Lambda) and not part.args.defaults:
                yield site, part.body, _number(facts, "<lambda>", part.lineno)


def _stored(node: ast.AST) -> set[str]:
    return {its.id for its in ast.walk(node) if isinstance(its, ast.Name) and isinstance(its.ctx, ast.Store)}


def _number(facts: Facts, name: str, line: int) -> int:
    found = (
        number for number, its in enumerate(facts.trace.program.functions) if its.name == name and its.line == line
    )
    return next(found, -1)


def _told(facts: Facts, site: Site, loop: Site, function: int, name: str) -> Iterator[Sighting]:
    params = facts.trace.program.functions[function].params
    for its in facts.rounds(loop, 3):
        late = [frame for frame in facts.frames_of(function) if int(facts.trace.frames.first[frame]) >= its.past]
        if name in params or len(its.starts) < 2 or len(late) < 2:
            continue
        values = [facts.asked(name, facts.after(step), its.frame) for step in its.starts[:2].tolist()]
        called = int(facts.trace.frames.call_step[late[0]])
        last = facts.asked(name, its.past, its.frame)
        if called >= 0 and values[0] != last:
            yield Sighting(
                site.number,
                0.9,
                {
                    "name": name,
                    "first": shown(values[0]),
                    "last": shown(last),
                    "called": facts.line(called),
                    "loop": loop.node.lineno,
                },
                (
                    Evidence(
                        its.starts[0], f"“{name}” becomes {shown(values[0])}.", (Ran(loop.number, its.starts[0]),)
                    ),
                    Evidence(
                        called,
                        f"The function is called; “{name}” is {shown(last)} for all of them.",
                        worth(name, last, its.frame, called),
                    ),
                ),
            )
            return


KIND = Kind(
    "late-name",
    "All look at the same name",
    "The functions made at line {line} look “{name}” up when they are called, not when they are made: at line "
    "{called} the loop at line {loop} is over, and “{name}” is {last} for all of them, also for the one made when it "
    "was {first}. Which should each one have?",
    "functions made in a loop read the loop's name, and were called after the loop, when it had another value",
    "strong",
    """\
signs = []
for pier in ["north", "south"]:
    signs.append(lambda: "to the " + pier) #!
for sign in signs:
    print(sign())
""",
    """\
signs = []
for pier in ["north", "south"]:
    signs.append(lambda pier=pier: "to the " + pier)
for sign in signs:
    print(sign())
""",
    find,
)
