"""Arguments that stand at each other's places."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts, shown
from eelgrass.reading.clues.results import own_calls


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each call of an own function whose arguments have the names of its parameters, at other places."""
    for its in own_calls(facts):
        function = facts.trace.program.functions[its.function]
        params = [name for name in function.params if name != "self"]
        names = [(arg.id if isinstance(arg, ast.Name) else "") for arg in its.call.args]
        if its.call.keywords or any(isinstance(arg, ast.Starred) for arg in its.call.args):
            continue
        if facts.trace.program.functions[its.site.function].name == function.name:
            continue  # a function that calls itself may mean it
        for place, name in enumerate(names[: len(params)]):
            if not name or params[place] == name or name not in params:
                continue
            other = params.index(name)
            if other < len(names) and (names[other] == params[place] or names[other] not in params):
                if other < place and names[other] == params[place]:
                    continue  # told of the first of the two
                value = facts.asked(name, its.visit, facts.frame(its.visit))
                is_both = names[other] == params[place]
                yield Sighting(
                    its.site.number,
                    0.9 if is_both else 0.6,
                    {
                        "function": function.name,
                        "name": name,
                        "value": shown(value),
                        "place": place + 1,
                        "param": params[place],
                    }
                    | {"other": other + 1},
                    (Evidence(its.visit, f"“{function.name}” is called.", (Ran(its.site.number, its.visit),)),),
                )


KIND = Kind(
    "arguments-swapped",
    "Arguments in another order",
    "Line {line} hands “{name}” ({value}) over at place {place}, where “{function}” calls it “{param}”; what "
    "“{function}” calls “{name}” comes at place {other}. Is the order meant?",
    "a name is handed over for a parameter of another name, while its own name is that of another parameter",
    "strong where two have changed places; middling for one",
    """\
def each(grams, people):
    return grams / people

people = 4
grams = 600
print(each(people, grams)) #!
""",
    """\
def each(grams, people):
    return grams / people

people = 4
grams = 600
print(each(grams, people))
""",
    find,
)
