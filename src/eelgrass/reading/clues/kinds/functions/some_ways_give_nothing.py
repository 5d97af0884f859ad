"""A function that gives a value on some of its ways, and nothing on others."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import GaveNothing, Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import mentions, stored_name
from eelgrass.reading.clues.program_text import Site
from eelgrass.reading.clues.results import OwnCall, is_used, returned_calls, returns_in


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each function with a `return` of a value that came to its end without one: its None was used as a value."""
    for its in returned_calls(facts):
        function = its.function
        if not its.gave_nothing or not is_used(its) or not returns_in(facts, function):
            continue
        definition = facts.definition_of(function)
        last = int(facts.trace.frames.last[its.frame])
        left = facts.trace.steps.statement[last]
        if (
            definition is None
            or _says_none(facts, function)
            or isinstance(getattr(facts.site(int(left)), "node", None), ast.Return)
        ):
            continue
        use = _use(facts, its)
        if use > 0:
            name = facts.trace.program.functions[function].name
            yield Sighting(
                definition.number,
                use,
                {"function": name, "call": its.site.node.lineno},
                (
                    Evidence(its.visit, f"“{name}” is called.", (Ran(its.site.number, its.visit),)),
                    Evidence(last, f"“{name}” ends without a “return” and gives None.", (GaveNothing(its.frame),)),
                ),
            )


def _says_none(facts: Facts, function: int) -> bool:
    """Whether the text says somewhere that the function may give nothing."""
    returns = [node for site, node in facts.all(ast.Return) if site.function == function]
    return any(
        its.value is None or (isinstance(its.value, ast.Constant) and its.value.value is None) for its in returns
    )


def _use(facts: Facts, its: OwnCall) -> float:
    """How much speaks for it that the caller expected a value: 0 where it asks whether there is one."""
    node, name = its.site.node, stored_name(its.site.node)
    if isinstance(node, (ast.If, ast.While)):
        return 0.0 if "None" in ast.unparse(node.test) or not isinstance(node.test, ast.Compare) else 0.7
    if name:
        asking = [site for site in facts.loads(its.site.function, name) if _asks(site, name)]
        return 0.0 if asking else 0.75
    return 0.0 if isinstance(node, ast.Return) else 0.85


def _asks(site: Site, name: str) -> bool:
    test = getattr(site.node, "test", None)
    if test is None or not mentions(test, name):
        return False
    return "None" in ast.unparse(test) or any(
        isinstance(its, ast.Name) for its in (test, getattr(test, "operand", None))
    )


KIND = Kind(
    "some-ways-give-nothing",
    "Some ways give nothing",
    "“{function}” (line {line}) gives a value on some of its ways; called by line {call}, it came to its end without "
    "a “return”, and gave None. What should it give then?",
    "a function with a `return` of a value ended without one, and its None was worked with unasked",
    "strong where the None is printed or worked with at once; less where it is stored",
    """\
def fare(age): #!
    if age < 6:
        return 0
    elif age < 60:
        return 4

print("fare:", fare(71))
""",
    """\
def fare(age):
    if age < 6:
        return 0
    elif age < 60:
        return 4
    return 2

print("fare:", fare(71))
""",
    find,
)
