"""Two names that differ in a letter, one of which was meant."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from difflib import SequenceMatcher

from eelgrass.reading.clues.checks import Raised, Ran, Reads
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.patterns import stored_name
from eelgrass.reading.clues.program_text import Site

_LIKENESS = 0.8
_FEWEST_LETTERS = 4
#: Of a function with more names than that, each is nearly another one.
_MOST_NAMES = 300


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each name that is stored and never read: another one that is nearly the same is read later, and has not
    changed; and of each name or field that is not known."""
    yield from _never_read(facts)
    for path, visit in facts.failures:
        site = facts.site_at(visit)
        parts = path.message.split("'")
        if site is None or path.type not in ("NameError", "AttributeError") or len(parts) < 3:
            continue
        wrong = parts[-2] if path.type == "AttributeError" and "Did you" not in path.message else parts[1]
        wrong = parts[3] if path.type == "AttributeError" and len(parts) > 4 else wrong
        known = _fields(facts) if path.type == "AttributeError" else _names(facts)
        near = _nearest(wrong, known)
        if near:
            raised = Evidence(path.stations[0].step, f"There is no “{wrong}”.", (Raised(path.stations[0].step),))
            yield Sighting(
                site.number,
                0.9,
                {"wrong": wrong, "near": near, "what": f"there is no “{wrong}”, but a “{near}”"},
                (raised,),
            )


def _never_read(facts: Facts) -> Iterator[Sighting]:
    for site in facts.sites:
        name = stored_name(site.node)
        if len(name) < _FEWEST_LETTERS or (facts.loads_anywhere(name) and not _only_itself(facts, site, name)):
            continue
        if name in facts.fields_read or facts.trace.program.functions[site.function].kind == "class":
            continue
        known = facts.once(_worked_with).get(site.function, set())
        near = _nearest(name, known) if len(known) <= _MOST_NAMES else ""
        for visit in facts.visits(site, 3) if near and not _is_pair(name, near) else ():
            read = facts.next_read(near, facts.frame(visit), visit)
            if read >= 0:
                value = facts.asked(near, read, facts.frame(visit))
                what = f"line {site.node.lineno} stores “{name}”, which nothing reads; “{near}” is still "
                what += f"{shown(value)} at line {facts.line(read)}"
                yield Sighting(
                    site.number,
                    0.8,
                    {"wrong": name, "near": near, "what": what},
                    (
                        Evidence(visit, f"“{name}” is stored.", (Ran(site.number, visit),)),
                        Evidence(read, f"“{near}” is read.", (Reads(near, read),)),
                    ),
                )
                break


def _worked_with(facts: Facts) -> dict[int, set[str]]:
    """By function: the names that it both stores and reads."""
    found: dict[int, set[str]] = {}
    for function, name, is_load in facts.names:
        if is_load and (function, name, False) in facts.names:
            found.setdefault(function, set()).add(name)
    return found


def _only_itself(facts: Facts, site: Site, name: str) -> bool:
    """Whether a name is read only by statements that store it."""
    return all(stored_name(its.node) == name for its in facts.loads_anywhere(name))


def _is_pair(one: str, other: str) -> bool:
    """Whether two names are meant to be different: they differ in a figure, at their end only by an s, or by what
    stands before one of them."""
    if any(its.isdigit() for its in one + other) or one.endswith(other) or other.endswith(one):
        return True
    return one.rstrip("s") == other.rstrip("s") and one != other and abs(len(one) - len(other)) == 1


def _nearest(name: str, known: set[str]) -> str:
    likely = [(SequenceMatcher(None, name.casefold(), its.casefold()).ratio(), its) for its in known if its != name]
    best = max(likely, default=(0.0, ""))
    return best[1] if best[0] >= _LIKENESS else ""


def _names(facts: Facts) -> set[str]:
    return {id_ for (_, id_, is_load) in facts.names if not is_load} | {
        its.name for its in facts.trace.program.functions
    }


def _fields(facts: Facts) -> set[str]:
    stored = {node.attr for _, node in facts.all(ast.Attribute) if isinstance(node.ctx, ast.Store)}
    return stored | {its.name for its in facts.trace.program.functions if its.kind == "function"}


KIND = Kind(
    "misspelt",
    "Two names that are nearly alike",
    "“{wrong}” and “{near}” are different names: {what} (line {line}). Are they meant to be one?",
    "a name is stored and never read while one that is nearly the same is read and unchanged; or a name or field is "
    "not known, and one that is nearly the same is",
    "strong",
    """\
total = 0
for crabs in [4, 6, 3]:
    totl = total + crabs #!
print("crabs:", total)
""",
    """\
total = 0
for crabs in [4, 6, 3]:
    total = total + crabs
print("crabs:", total)
""",
    find,
)
