"""Which statements of two texts are the same one: also where names were changed, functions moved, lines added."""

from __future__ import annotations

import ast
import re
from collections import defaultdict
from collections.abc import Hashable, Sequence
from difflib import SequenceMatcher

from eelgrass.parsing import parsed
from eelgrass.reading.expressions.source_tree import own_parts
from eelgrass.reading.recording import Recording
from eelgrass.trace.program import EXPRESSION

Keys = list[tuple[str, str, str]]
#: What functions whose names differ must have in common.
_ALIKE = 0.6
_WORD = re.compile(r"\w+")


def matched_statements(a: Recording, b: Recording) -> dict[int, int]:
    """For statements of one text, those of the other that they are."""
    keys = [_keys(its) for its in (a, b)]
    ours, theirs = (_by_function(its) for its in (a, b))
    found: dict[int, int] = {}
    for one, other in _matched_functions(a, b, ours, theirs, keys).items():
        found.update(_in_order(ours[one], theirs[other], *keys))
    return found | _expressions(a, b, found)


def _expressions(a: Recording, b: Recording, matched: dict[int, int]) -> dict[int, int]:
    """The lambdas and comprehensions in matched statements, in the order of the text."""
    inside: dict[tuple[int, str], list[int]] = defaultdict(list)
    for number, its in enumerate(b.trace.program.statements):
        if its.arm == EXPRESSION:
            inside[its.parent, its.kind].append(number)
    found: dict[int, int] = {}
    for number, its in enumerate(a.trace.program.statements):
        there = matched.get(its.parent, found.get(its.parent, -1))
        if its.arm == EXPRESSION and inside[there, its.kind]:
            found[number] = inside[there, its.kind].pop(0)
    return found


def _keys(recording: Recording) -> Keys:
    """By statement: (its kind, its own text without the names in it, and with them)."""
    found = []
    for number, its in enumerate(recording.trace.program.statements):
        node = recording.worked_lines.syntax.statement(number)
        parts = [] if node is None else own_parts(node)
        named = " ".join(map(_unparsed, parts))
        found.append((its.kind, " ".join(_nameless(part) for part in parts), named))
    return found


def _unparsed(tree: ast.AST) -> str:
    try:
        return ast.unparse(tree)
    except (ValueError, RecursionError):
        return ""


def _nameless(tree: ast.AST) -> str:
    """The text of a part, with `_` in the place of each name of its own."""

    class Blank(ast.NodeTransformer):
        def visit_Name(self, node: ast.Name) -> ast.AST:
            return ast.copy_location(ast.Name("_", node.ctx), node)

    try:
        return ast.unparse(Blank().visit(parsed(ast.unparse(tree))))
    except (SyntaxError, ValueError, RecursionError):
        return ""


def _by_function(recording: Recording) -> dict[int, list[int]]:
    found: dict[int, list[int]] = defaultdict(list)
    for number, its in enumerate(recording.trace.program.statements):
        if its.arm != EXPRESSION:
            found[its.function].append(number)
    return found


def _matched_functions(
    a: Recording,
    b: Recording,
    ours: dict[int, list[int]],
    theirs: dict[int, list[int]],
    keys: list[Keys],
) -> dict[int, int]:
    """Functions by their full names, the others by what is in them."""
    names = [{_full_name(its, number): number for number in of} for its, of in ((a, ours), (b, theirs))]
    found = {number: names[1][name] for name, number in names[0].items() if name in names[1]}
    left = [number for number in theirs if number not in found.values()]
    for one in ours:
        if one in found or not left:
            continue
        shares = [(_share(ours[one], theirs[other], keys), -other) for other in left]
        share, other = max(shares)
        if share >= _ALIKE:
            found[one] = -other
            left.remove(-other)
    return found


def _full_name(recording: Recording, function: int) -> tuple[str, ...]:
    functions, name = recording.trace.program.functions, []
    module = functions[function].module
    while function >= 0:
        name.append(functions[function].name)
        function = functions[function].parent
    return (str(module), *name)


def _share(ours: list[int], theirs: list[int], keys: list[Keys]) -> float:
    parts = [[keys[side][number][:2] for number in of] for side, of in enumerate((ours, theirs))]
    return SequenceMatcher(None, parts[0], parts[1], autojunk=False).ratio()


def _in_order(ours: list[int], theirs: list[int], our_keys: Keys, their_keys: Keys) -> dict[int, int]:
    """The statements of one function, in their order: first those that are the same with their names, between these
    those that are the same without; of what is left, each with the first one of its kind, of calls with the first that
    has a word in common."""
    found: dict[int, int] = {}
    for tag, first, end, low, high in _opcodes([our_keys[its] for its in ours], [their_keys[its] for its in theirs]):
        if tag == "equal":
            found.update(zip(ours[first:end], theirs[low:high], strict=True))
        else:
            found.update(_renamed(ours[first:end], theirs[low:high], our_keys, their_keys))
    return found


def _renamed(ours: list[int], theirs: list[int], our_keys: Keys, their_keys: Keys) -> dict[int, int]:
    found: dict[int, int] = {}
    before, after = [our_keys[its][:2] for its in ours], [their_keys[its][:2] for its in theirs]
    for tag, first, end, low, high in _opcodes(before, after):
        if tag == "equal":
            found.update(zip(ours[first:end], theirs[low:high], strict=True))
        elif tag == "replace":
            place = low
            for number in range(first, end):
                same = [it for it in range(place, high) if _is_of_kind(our_keys[ours[number]], their_keys[theirs[it]])]
                if same:
                    found[ours[number]] = theirs[same[0]]
                    place = same[0] + 1
    return found


def _is_of_kind(one: tuple[str, str, str], other: tuple[str, str, str]) -> bool:
    if one[0] == "expr":
        return one[0] == other[0] and not set(_WORD.findall(one[2])).isdisjoint(_WORD.findall(other[2]))
    return one[0] == other[0]


def _opcodes(before: Sequence[Hashable], after: Sequence[Hashable]) -> Sequence[tuple[str, int, int, int, int]]:
    return SequenceMatcher(None, before, after, autojunk=False).get_opcodes()
