"""Which names of one text stand for which of another, where statements are matched."""

from __future__ import annotations

import ast
from collections import Counter, defaultdict
from collections.abc import Iterator

from eelgrass.reading.recording import Recording

#: What a statement has below it, which are statements of their own.
_BELOW = frozenset({"body", "orelse", "finalbody", "handlers", "cases"})


class MatchedNames:
    """For the names in the functions of one run, those that stand in the same places of the other's statements."""

    def __init__(self, a: Recording, b: Recording, statements: dict[int, int]) -> None:
        votes: dict[tuple[int, str], Counter[str]] = defaultdict(Counter)
        for one, other in statements.items():
            nodes = a.worked_lines.syntax.statement(one), b.worked_lines.syntax.statement(other)
            if nodes[0] is None or nodes[1] is None:
                continue
            function, names = a.trace.program.statements[one].function, [list(_names(node)) for node in nodes if node]
            if len(names[0]) == len(names[1]):
                for ours, theirs in zip(*names, strict=True):
                    votes[function, ours][theirs] += 1
                    votes[-1, ours][theirs] += 1  # for where the name is one of a function around, or a parameter
        self._other = {name: counted.most_common(1)[0][0] for name, counted in votes.items()}

    def of(self, function: int, name: str) -> str:
        """What a name in a function is called in the other text."""
        return self._other.get((function, name)) or self._other.get((-1, name), name)


def _names(node: ast.AST) -> Iterator[str]:
    """The names in a statement, without those in the statements below it, in the order of the text."""
    for field, value in ast.iter_fields(node):
        if field not in _BELOW:
            for part in value if isinstance(value, list) else [value]:
                if isinstance(part, ast.AST):
                    yield from _names(part)
    if isinstance(node, (ast.Name, ast.arg)):
        yield node.id if isinstance(node, ast.Name) else node.arg
