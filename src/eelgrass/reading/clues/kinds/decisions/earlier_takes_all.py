"""A branch that an earlier one leaves nothing for."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds, NeverRan
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.program_text import Site, source

_SIGNS: dict[type[ast.cmpop], tuple[int, bool]] = {
    ast.Gt: (1, False),
    ast.GtE: (1, True),
    ast.Lt: (-1, False),
    ast.LtE: (-1, True),
}


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each chain of `elif`: a later condition was true where an earlier branch ran, and includes nothing besides."""
    for site, node in facts.all(ast.If):
        chain = _chain(node)
        for place, later in enumerate(chain[1:], 1):
            for earlier in chain[:place]:
                if includes(earlier.test, later.test):
                    yield from _told(facts, site, earlier, facts.site_of(later), facts.site_of(later.body[0]))


def _chain(node: ast.If) -> list[ast.If]:
    found = [node]
    while len(found[-1].orelse) == 1 and isinstance(found[-1].orelse[0], ast.If):
        found.append(found[-1].orelse[0])
    return found


def includes(one: ast.expr, other: ast.expr) -> bool:
    """Whether a bound of something is met by all that meets another bound of it."""
    if not (isinstance(one, ast.Compare) and isinstance(other, ast.Compare) and len(one.ops) == len(other.ops) == 1):
        return False
    if ast.unparse(one.left) != ast.unparse(other.left):
        return False
    bounds = [its.comparators[0] for its in (one, other)]
    values = [its.value for its in bounds if isinstance(its, ast.Constant) and isinstance(its.value, (int, float))]
    signs = [sign for its in (one, other) if (sign := _SIGNS.get(type(its.ops[0]))) is not None]
    if len(values) < 2 or len(signs) < 2 or signs[0][0] != signs[1][0]:
        return False
    first, second = (value * sign for value, (sign, _) in zip(values, signs, strict=True))
    return second > first or (second == first and (signs[0][1] or not signs[1][1]))


def _told(facts: Facts, site: Site, earlier: ast.If, later: Site | None, body: Site | None) -> Iterator[Sighting]:
    if later is None or body is None or facts.times(body):
        return
    for visit in facts.visits(site):
        if facts.value(earlier.test, visit) is True and facts.value(later.node.test, visit) is True:  # type: ignore[attr-defined]
            frame = facts.frame(visit)
            test = later.node.test  # type: ignore[attr-defined]
            left = earlier.test.left  # type: ignore[attr-defined]
            yield Sighting(
                later.number,
                0.9,
                {"later": source(test), "earlier": source(earlier.test), "at": earlier.lineno, "left": source(left)}
                | {"value": facts.value(left, visit)},
                (
                    Evidence(
                        visit,
                        f"“{source(earlier.test)}” and “{source(test)}” are both true.",
                        (Holds(f"({ast.unparse(earlier.test)}) and ({ast.unparse(test)})", frame, visit),),
                    ),
                    Evidence(visit, "The later branch never ran.", (NeverRan(body.number),)),
                ),
            )
            return


KIND = Kind(
    "earlier-takes-all",
    "Nothing left for a branch",
    "The branch “{later}” at line {line} never ran, though it was true when “{left}” was {value}: “{earlier}” at line"
    " {at} is asked first, and takes all of these. In which order should they be asked?",
    "a later branch's bound lies within an earlier one's, was true in the run, and its branch never ran",
    "strong",
    """\
for metres in [12, 3, 40]:
    if metres > 2:
        print("low")
    elif metres > 30: #!
        print("high")
""",
    """\
for metres in [12, 3, 40]:
    if metres > 30:
        print("high")
    elif metres > 2:
        print("low")
""",
    find,
)
