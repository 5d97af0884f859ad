"""`x == 1 or 2`: an alternative that is always true."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts, shown
from eelgrass.reading.clues.program_text import source


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `or` with a constant that counts as true: a comparison in it was false, and the whole was not. Of each
    `and` of a text with a comparison by `in`: the text is not in there, and the whole was true."""
    for site, node in facts.all(ast.BoolOp):
        always = [its for its in node.values if isinstance(its, ast.Constant) and its.value]
        compared = next((its for its in node.values if isinstance(its, ast.Compare)), None)
        if not always or compared is None or not isinstance(site.node, (ast.If, ast.While)):
            continue
        asked = _asked(node, compared, always[0])
        for visit in facts.visits(site) if asked is not None else ():
            if asked is not None and facts.value(asked, visit) is False and facts.value(node, visit):
                frame, left = facts.frame(visit), facts.value(compared.left, visit)
                yield Sighting(
                    site.number,
                    0.95,
                    {"test": source(node), "first": source(asked), "left": source(compared.left)}
                    | {"value": "something else" if left is UNKNOWN else shown(left), "always": source(always[0])},
                    (
                        Evidence(
                            visit, f"“{source(asked)}” is false.", (Holds(f"not ({ast.unparse(asked)})", frame, visit),)
                        ),
                        Evidence(
                            visit, "The whole counts as true.", (Holds(f"bool({ast.unparse(node)})", frame, visit),)
                        ),
                    ),
                )
                break


def _asked(node: ast.BoolOp, compared: ast.Compare, always: ast.Constant) -> ast.expr | None:
    """What the condition seems to ask: its comparison, or, of an `and`, the same of the constant."""
    if isinstance(node.op, ast.Or):
        return compared
    is_in = (
        isinstance(compared.ops[0], ast.In)
        and type(always.value) is str
        and node.values.index(always) < node.values.index(compared)
    )
    return ast.copy_location(ast.Compare(always, compared.ops, compared.comparators), compared) if is_in else None


KIND = Kind(
    "constant-in-or",
    "A part that is always true",
    "“{test}” at line {line} is true here, though “{first}” is false: {always} alone counts as true and asks nothing. "
    "What should each part ask?",
    "an `or` or `and` with a constant that counts as true, where what seems to be asked was false",
    "strong",
    """\
for tide in ["ebb", "slack"]:
    if tide == "flood" or "high": #!
        print(tide, "gate open")
""",
    """\
for tide in ["ebb", "slack"]:
    if tide == "flood" or tide == "high":
        print(tide, "gate open")
""",
    find,
)
