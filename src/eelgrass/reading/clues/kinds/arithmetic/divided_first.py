"""A mean whose division takes only the last of what is added."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import stored_name
from eelgrass.reading.clues.program_text import source

_MEAN = re.compile(r"av(era)?g|mean|mid|centre|center|half|share|each|per_", re.I)


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `a + b / n`: the name it gets is that of a mean, or `n` counts what is added; and the sum divided would
    differ."""
    for site in facts.sites:
        value = getattr(site.node, "value", None)
        node = (
            value
            if isinstance(value, ast.BinOp)
            else next((its for its in ast.walk(value) if isinstance(its, ast.BinOp)), None)
            if isinstance(value, ast.Call)
            else None
        )
        if not isinstance(node, ast.BinOp) or not isinstance(node.op, ast.Add) or not isinstance(node.right, ast.BinOp):
            continue
        by = node.right.right
        if not isinstance(node.right.op, (ast.Div, ast.FloorDiv)):
            continue
        added = _added(node.left) + 1
        function = facts.trace.program.functions[site.function].name
        name = stored_name(site.node) or (function if isinstance(site.node, ast.Return) else ast.unparse(site.node))
        counts = isinstance(by, ast.Constant) and by.value == added
        if not (counts and isinstance(node.right.left, (ast.Name, ast.Subscript, ast.Attribute))) and not _MEAN.search(
            name
        ):
            continue
        for visit in facts.visits(site, 4):
            gave = facts.value(node, visit)
            left, right, divisor = (facts.value(its, visit) for its in (node.left, node.right.left, by))
            if not all(type(its) in (int, float) for its in (gave, left, right, divisor)) or not divisor:
                continue
            other = (left + right) / divisor
            if other != gave:
                check = Holds(f"({ast.unparse(node)}) == {gave!r}", facts.frame(visit), visit)
                yield Sighting(
                    site.number,
                    0.85 if _MEAN.search(name) else 0.6,
                    {
                        "text": source(node),
                        "gave": shown(gave),
                        "part": source(node.right),
                        "by": source(by),
                        "other": shown(other),
                    },
                    (Evidence(visit, f"“{source(node)}” gives {shown(gave)}.", (check,)),),
                )
                break


def _added(node: ast.expr) -> int:
    if isinstance(node, ast.BinOp) and isinstance(node.op, ast.Add):
        return _added(node.left) + _added(node.right)
    return 1


KIND = Kind(
    "divided-first",
    "Divided before it is added",
    "“{text}” at line {line} divides only “{part}”, before adding: it gives {gave}. All of it divided by {by} would "
    "be {other}. Which of the two is meant?",
    "a sum whose last part alone is divided, where its name or the divisor speaks of a mean; the mean would differ",
    "strong with such a name, middling with the divisor alone",
    """\
morning = 14
evening = 18
average = morning + evening / 2 #!
print(average)
""",
    """\
morning = 14
evening = 18
average = (morning + evening) / 2
print(average)
""",
    find,
)
