"""A count that begins with 1 and has counted one too many."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import stored_name
from eelgrass.reading.clues.program_text import Site


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each name that begins with 1 and grows by 1 in a loop that does not read it: it is read after the loop."""
    for site, node in facts.all(ast.Assign):
        name = stored_name(node)
        is_one = isinstance(node.value, ast.Constant) and type(node.value.value) is int and node.value.value == 1
        stores = [its for its in facts.stores(site.function, name) if its is not site] if name and is_one else []
        if len(stores) != 1 or not _counts(stores[0].node):
            continue
        loop = facts.loop_around(stores[0])
        if (
            loop is None
            or facts.inside(site, loop)
            or not any(word in name for word in ("count", "number", "how_many", "total"))
        ):
            continue
        inside = [loop, *facts.all_in(loop)]
        if not any(its in facts.loads(site.function, name) and its is not stores[0] for its in inside):
            yield from _told(facts, site, stores[0], loop, name)


def _counts(node: ast.stmt) -> bool:
    by_one = isinstance(node, ast.AugAssign) and isinstance(node.op, ast.Add) and ast.unparse(node.value) == "1"
    name = stored_name(node)
    return by_one or (isinstance(node, ast.Assign) and ast.unparse(node.value) in (f"{name} + 1", f"1 + {name}"))


def _told(facts: Facts, site: Site, counting: Site, loop: Site, name: str) -> Iterator[Sighting]:
    for its in facts.rounds(loop, 3):
        times = len(facts.all_in_frame(counting, its.frame, its.first, its.past + 1))
        read = facts.next_read(name, its.frame, its.past - 1)
        is_read = facts.read_by_others(name, its.frame, its.first, its.past) >= 0
        if times and read >= 0 and not is_read and facts.asked(name, read, its.frame) == times + 1:
            check = Holds(f"{name} == {times + 1}", its.frame, read)
            yield Sighting(
                site.number,
                0.75,
                {
                    "name": name,
                    "times": times,
                    "at": counting.node.lineno,
                    "read": facts.line(read),
                    "value": times + 1,
                },
                (
                    Evidence(
                        read,
                        f"Line {counting.node.lineno} has counted {times} times, “{name}” is {times + 1}.",
                        (check,),
                    ),
                ),
            )
            return


KIND = Kind(
    "counts-from-one",
    "One too many",
    "“{name}” begins with 1 at line {line}, and line {at} has counted {times} times: it is {value} at line {read}. "
    "With what should a count begin?",
    "a name that speaks of a count begins with 1, is counted on in a loop that does not read it, and is one more than"
    " that",
    "strong",
    """\
count = 1 #!
for depth in [3, 8, 5]:
    if depth > 4:
        count += 1
print("deep beds:", count)
""",
    """\
number = 1
for depth in [3, 8, 5]:
    print(number, depth)
    number += 1
print("next number:", number)
""",
    find,
)
