"""Comparisons of a run: both sides at some of their visits."""

from __future__ import annotations

import ast
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from eelgrass.reading.clues.facts import UNKNOWN, Facts
from eelgrass.reading.clues.program_text import Site

#: Of what a comprehension goes through, so many elements are looked at.
_ELEMENTS = 24
_COMPREHENSIONS = (ast.ListComp, ast.SetComp, ast.GeneratorExp, ast.DictComp)


@dataclass(frozen=True)
class Compared:
    """A comparison of two things at a visit, with the values of its sides and its result."""

    site: Site
    node: ast.Compare
    visit: int
    left: Any
    right: Any
    result: Any
    in_comprehension: bool = False

    @property
    def left_text(self) -> str:
        """The left side as an expression that can be asked at the visit."""
        return f"({self.left!r})" if self.in_comprehension else f"({ast.unparse(self.node.left)})"

    @property
    def right_text(self) -> str:
        """The right side, as well."""
        return f"({self.right!r})" if self.in_comprehension else f"({ast.unparse(self.node.comparators[0])})"


def comparisons(facts: Facts, *kinds: type[ast.cmpop]) -> Iterator[Compared]:
    """Every single comparison by one of some operators, at some of its visits; where both sides are known. Those in the
    conditions of comprehensions, with some of the elements that these go through."""
    return (its for its in facts.once(_comparisons) if isinstance(its.node.ops[0], kinds))


def _comparisons(facts: Facts) -> list[Compared]:
    found = []
    for site, node in facts.all(ast.Compare):
        for visit in facts.visits(site) if len(node.ops) == 1 else ():
            its = _compared(facts, site, node, visit, None)
            if its is not None and facts.was_evaluated(node, site, visit):
                found.append(its)
    for kind in _COMPREHENSIONS:
        for site, comprehension in facts.all(kind):
            if isinstance(comprehension, _COMPREHENSIONS):
                found += _in_comprehension(facts, site, comprehension.generators[0])
    return found


def _in_comprehension(facts: Facts, site: Site, clause: ast.comprehension) -> Iterator[Compared]:
    nodes = [its for its in clause.ifs if isinstance(its, ast.Compare) and len(its.ops) == 1]
    target = clause.target.id if isinstance(clause.target, ast.Name) else ""
    for visit in facts.visits(site, 4) if nodes and target else ():
        through: Any = facts.value(clause.iter, visit)
        elements = list(through)[:_ELEMENTS] if isinstance(through, (list, tuple, str, dict, set, range)) else []
        for element in elements:
            for node in nodes:
                its = _compared(facts, site, node, visit, {target: element})
                if its is not None:
                    yield its


def _compared(
    facts: Facts, site: Site, node: ast.Compare, visit: int, bound: Mapping[str, Any] | None
) -> Compared | None:
    left, right = (facts.value(its, visit, bound=bound) for its in (node.left, node.comparators[0]))
    if left is UNKNOWN or right is UNKNOWN:
        return None
    return Compared(site, node, visit, left, right, facts.value(node, visit, bound=bound), bound is not None)
