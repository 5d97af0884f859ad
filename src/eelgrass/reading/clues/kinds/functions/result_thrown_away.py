"""A call whose only use is its result, which nothing keeps."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts, shown
from eelgrass.reading.clues.patterns import changes
from eelgrass.reading.clues.program_text import Site, source
from eelgrass.reading.clues.results import returned_calls, returns_in
from eelgrass.trace.histories import Part
from eelgrass.trace.values import NOT_SET

#: A call of more steps is not looked through.
_MOST_STEPS = 2_000
_TEXT = frozenset(
    (
        "upper",
        "lower",
        "strip",
        "lstrip",
        "rstrip",
        "replace",
        "title",
        "capitalize",
        "split",
        "join",
        "casefold",
        "zfill",
    )
)
_FUNCTIONS = frozenset(
    ("sorted", "round", "abs", "int", "float", "str", "reversed", "sum", "max", "min", "list", "set")
)


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each statement that is a call only: of a text's method, of a built-in function, of an own function that does
    nothing but give a value."""
    for site, node in facts.all(ast.Expr):
        call = node.value
        if isinstance(call, ast.Call):
            yield from _built_in(facts, site, call)
    for its in returned_calls(facts):
        if isinstance(its.site.node, ast.Expr) and its.site.node.value is its.call and not its.gave_nothing:
            function = its.function
            value = int(facts.trace.frames.value[its.frame])
            definition = facts.definition_of(function)
            params = facts.trace.program.functions[function].params
            if definition is None or any(changes(definition.node, param) for param in params):
                continue
            recursive = its.site.function == function
            if (
                not recursive
                and value != NOT_SET
                and returns_in(facts, function)
                and not _does_something(facts, its.visit)
            ):
                name = facts.trace.program.functions[function].name
                got = facts.plain(value)
                gave = "a value" if got is UNKNOWN else shown(got)
                yield _told(its.site, its.visit, source(its.call), gave, f"“{name}” does nothing else", 0.85)


def _built_in(facts: Facts, site: Site, call: ast.Call) -> Iterator[Sighting]:
    method = call.func.attr if isinstance(call.func, ast.Attribute) else ""
    function = call.func.id if isinstance(call.func, ast.Name) else ""
    if method not in _TEXT and function not in _FUNCTIONS:
        return
    if facts.loop_around(site) is None and any(isinstance(p.node, ast.Try) for p in _around(facts, site)):
        return  # whether it raises may be all that is wanted
    for visit in facts.visits(site, 4):
        owner = facts.value(call.func.value, visit) if isinstance(call.func, ast.Attribute) else None
        if (method and type(owner) is not str) or facts.gave(visit).frame_called(call) is not None:
            continue
        gave = facts.value(call, visit)
        if gave is UNKNOWN or (method and gave == owner):
            continue
        what = f"{shown(owner)} stays as it is" if method else "what it was given stays as it is"
        yield _told(site, visit, source(call), shown(gave), what, 0.9)
        return


def _around(facts: Facts, site: Site) -> Iterator[Site]:
    its = facts.parent(site)
    while its is not None:
        yield its
        its = facts.parent(its)


def _does_something(facts: Facts, visit: int) -> bool:
    """Whether a visit's statement, with all that it called, printed, asked, or changed anything that was there
    before."""
    end = facts.after(visit)
    texts = facts.trace.texts.step
    if bool(((texts >= visit) & (texts < end)).any()) or end - visit > _MOST_STEPS:
        return True
    slots = facts.trace.slots
    for step in range(visit, end):
        for slot, _ in facts.trace.histories.writes_during(step):
            owner = int(slots.owner[slot])
            begun = facts.trace.frames.first if slots.part[slot] == Part.NAME else facts.trace.objects.first
            if int(begun[owner]) < visit:
                return True
    return False


def _told(site: Site, visit: int, call: str, gave: str, what: str, strength: float) -> Sighting:
    evidence = (Evidence(visit, f"“{call}” gives {gave}, and that goes nowhere.", (Ran(site.number, visit),)),)
    return Sighting(site.number, strength, {"call": call, "gave": gave, "what": what}, evidence)


KIND = Kind(
    "result-thrown-away",
    "The result is thrown away",
    "“{call}” at line {line} gave {gave}, and nothing keeps it: {what}. What should become of the result?",
    "a statement that is only a call, whose result differs from what was there, and which does nothing else",
    "strong",
    """\
station = "  north pier "
station.strip() #!
print("[" + station + "]")
""",
    """\
station = "  north pier "
station = station.strip()
print("[" + station + "]")
""",
    find,
)
