"""A parameter that its function does not look at."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts, shown
from eelgrass.reading.clues.results import returned_calls


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each parameter that is never read in its function: a name of the module is read there instead, which had
    another value."""
    for its in returned_calls(facts):
        number = its.function
        function = facts.trace.program.functions[number]
        definition = facts.definition_of(number)
        for place, param in enumerate(function.params):
            if param in ("self", "cls") or param.startswith("_") or definition is None or place >= len(its.call.args):
                continue
            inner = [
                node.id
                for node in ast.walk(definition.node)
                if isinstance(node, ast.Name) and isinstance(node.ctx, ast.Load)
            ]
            if param in inner:
                continue
            given = facts.value(its.call.args[place], its.visit)
            for name in sorted(set(inner) & set(function.global_)):
                outer = facts.asked(name, its.visit, facts.frame(its.visit))
                if (
                    outer is UNKNOWN
                    or given is UNKNOWN
                    or type(outer) is not type(given)
                    or type(outer) not in (int, float, str, list, dict, tuple)
                ):
                    continue
                yield Sighting(
                    definition.number,
                    0.8 if outer != given else 0.6,
                    {
                        "function": function.name,
                        "param": param,
                        "given": shown(given),
                        "name": name,
                        "outer": shown(outer),
                    }
                    | {"call": its.site.node.lineno},
                    (Evidence(its.visit, f"{shown(given)} is handed over.", (Ran(its.site.number, its.visit),)),),
                )
                break


KIND = Kind(
    "parameter-not-used",
    "A parameter that is not looked at",
    "“{function}” (line {line}) never looks at its parameter “{param}”, which was {given} at line {call}; it reads "
    "“{name}” from outside, which was {outer}. Which of the two should it work with?",
    "a parameter is never read in its function, which reads a name of the module that holds a value of the same type",
    "strong where the two values differ",
    """\
depths = [3, 5]

def deepest(values): #!
    return max(depths)

print(deepest([4, 9]))
""",
    """\
depths = [3, 5]

def deepest(values):
    return max(values)

print(deepest([4, 9]), deepest(depths))
""",
    find,
)
