"""A whole-number division, or an `int`, that takes a fraction away."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import called, stored_name
from eelgrass.reading.clues.program_text import source

_FRACTIONAL = re.compile(
    r"av(era)?g|mean|percent|ratio|share|rate|price|fare|cost|litre|fraction|quota|speed|density", re.I
)


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `//` or `int(… / …)` that leaves something over and whose name is that of something with a fraction."""
    for site in facts.sites:
        value = getattr(site.node, "value", None)
        function = facts.trace.program.functions[site.function].name
        name = stored_name(site.node) or (function if isinstance(site.node, ast.Return) else "")
        if not isinstance(value, ast.expr) or not _FRACTIONAL.search(name):
            continue
        node = next((its for its in ast.walk(value) if _cuts(its)), None)
        division = node.args[0] if isinstance(node, ast.Call) else node
        if not isinstance(node, ast.expr) or not isinstance(division, ast.BinOp):
            continue
        for visit in facts.visits(site, 6):
            one, by = facts.value(division.left, visit), facts.value(division.right, visit)
            if type(one) in (int, float) and type(by) in (int, float) and by and one % by:
                whole = one // by if isinstance(node, ast.BinOp) else int(one / by)
                check = Holds(
                    f"({ast.unparse(division.left)}) % ({ast.unparse(division.right)}) != 0", facts.frame(visit), visit
                )
                yield Sighting(
                    site.number,
                    0.7 if _is_gone_on_with(value, node) else 0.6,
                    {"text": source(node), "name": name, "whole": shown(whole), "exact": shown(round(one / by, 4))},
                    (Evidence(visit, f"{shown(one)} divided by {shown(by)} leaves something over.", (check,)),),
                )
                break


def _cuts(node: ast.AST) -> bool:
    if isinstance(node, ast.BinOp):
        return isinstance(node.op, ast.FloorDiv)
    is_int = isinstance(node, ast.Call) and called(node) == "int" and len(node.args) == 1
    return is_int and isinstance(node.args[0], ast.BinOp) and isinstance(node.args[0].op, ast.Div)  # type: ignore[attr-defined]


def _is_gone_on_with(whole: ast.expr, part: ast.AST) -> bool:
    return whole is not part


KIND = Kind(
    "fraction-lost",
    "The fraction is lost",
    "“{text}” at line {line} gives {whole}; exactly, it would be {exact}. Should “{name}” have no fraction?",
    "a whole-number division that leaves something over, for a name that speaks of something with a fraction",
    "middling; more where the result is worked on with",
    """\
tagged = 17
caught = 40
percent = tagged // caught * 100 #!
print(percent)
""",
    """\
tagged = 17
caught = 40
percent = tagged / caught * 100
print(percent)
""",
    find,
)
