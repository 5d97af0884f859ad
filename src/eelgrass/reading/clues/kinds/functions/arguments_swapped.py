"""Arguments that stand at each other's places."""

from __future__ import annotations

import ast
from collections.abc import Callable, Iterator

from eelgrass.reading.clues.checks import Raised, Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts, shown
from eelgrass.reading.clues.patterns import called
from eelgrass.reading.clues.program_text import source
from eelgrass.reading.clues.results import OwnCall, makings, own_calls
from eelgrass.reading.expressions.source_tree import own_parts


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each call of an own function whose arguments have the names of its parameters, at other places; else whose
    arguments are of types that other calls have the other way round."""
    found = list(_by_names(facts))
    yield from found
    told = {its.statement for its in found}
    for its in (*_by_types(facts), *_of_built_ins(facts)):
        if its.statement not in told:
            yield its


def _by_names(facts: Facts) -> Iterator[Sighting]:
    for its in (*own_calls(facts), *makings(facts)):
        function = facts.trace.program.functions[its.function]
        own_name = source(its.call.func)
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
                        "function": own_name,
                        "name": name,
                        "value": shown(value),
                        "place": place + 1,
                        "param": params[place],
                    }
                    | {"why": f"what “{own_name}” calls “{name}” comes at place {other + 1}"},
                    (Evidence(its.visit, f"“{own_name}” is called.", (Ran(its.site.number, its.visit),)),),
                )


def _by_types(facts: Facts) -> Iterator[Sighting]:
    """Of the calls of each function of two parameters: the one whose arguments have the types that those of others have
    at each other's places. Of one call against one, that which did not return; of a call alone, where a parameter whose
    name is one for several got a single thing, and the other one got several."""
    by_function: dict[int, list[OwnCall]] = {}
    for its in (*own_calls(facts), *makings(facts)):
        if not its.call.keywords and len(its.call.args) == 2:
            by_function.setdefault(its.function, []).append(its)
    for number, calls in by_function.items():
        names = [name for name in facts.trace.program.functions[number].params if name != "self"]
        handed = [[facts.value(arg, its.visit) for arg in its.call.args] for its in calls]
        types = [tuple(type(one).__name__ for one in pair) for pair in handed]
        for its, pair, kinds in zip(calls, handed, types, strict=True):
            turned, alike = types.count(kinds[::-1]), types.count(kinds)
            if kinds[0] == kinds[1] or UNKNOWN in pair or len(names) < 2:
                continue
            if turned > alike or (turned == alike and not its.returned):
                why = f"other calls hand “{kinds[1]}” over there, and “{kinds[0]}” at place 2"
                yield _told(facts, its, pair, names, why, 0.85)
            elif not turned and _is_plural(names[0]) and not _is_plural(names[1]) and _are_turned(pair):
                yield _told(facts, its, pair, names, f"“{names[1]}” is {shown(pair[1])}", 0.7)


def _of_built_ins(facts: Facts) -> Iterator[Sighting]:
    """Of each call of a built-in function that raised an exception: it would have taken its two arguments the other
    way round."""
    for path, visit in facts.failures:
        site = facts.site_at(visit)
        parts = () if site is None else (part for its in own_parts(site.node) for part in ast.walk(its))
        for node in parts:
            name = called(node) if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) else ""
            if site is None or name not in _TAKES or not isinstance(node, ast.Call) or len(node.args) != 2:
                continue
            pair = [facts.value(its, visit) for its in node.args]
            param, first, second = _TAKES[name]
            if UNKNOWN in pair or (first(pair[0]) and second(pair[1])) or not (first(pair[1]) and second(pair[0])):
                continue
            step = path.stations[0].step
            yield Sighting(
                site.number,
                0.9,
                {"function": name, "name": source(node.args[0]), "value": shown(pair[0]), "place": 1}
                | {"param": param, "why": f"{shown(pair[1])} comes at place 2"},
                (Evidence(step, f"“{name}” cannot work with them so.", (Raised(step),)),),
            )


def _is(*types: type) -> Callable[[object], bool]:
    return lambda value: isinstance(value, types)


_MODES = frozenset(("r", "w", "a", "x", "rb", "wb", "ab", "r+", "w+", "a+", "rt", "wt"))
#: Of built-in functions that are given two things: what the first is called, and what each has to be.
_TAKES: dict[str, tuple[str, Callable[[object], bool], Callable[[object], bool]]] = {
    "open": ("file", lambda its: isinstance(its, str) and its not in _MODES, lambda its: its in _MODES),
    "round": ("number", _is(int, float), _is(int)),
    "enumerate": ("iterable", _is(list, tuple, str, dict, set, range), _is(int)),
    "int": ("text", _is(str), _is(int)),
}


def _is_plural(name: str) -> bool:
    return len(name) > 3 and name.endswith("s") and not name.endswith("ss")


def _are_turned(pair: list[object]) -> bool:
    """Whether a number comes first, and several things behind it."""
    return type(pair[0]) in (int, float) and isinstance(pair[1], (list, tuple, dict, set))


def _told(facts: Facts, its: OwnCall, pair: list[object], names: list[str], why: str, strength: float) -> Sighting:
    function = facts.trace.program.functions[its.function].name
    return Sighting(
        its.site.number,
        strength,
        {"function": function, "name": source(its.call.args[0]), "value": shown(pair[0]), "place": 1}
        | {"param": names[0], "why": why},
        (Evidence(its.visit, f"“{function}” is called.", (Ran(its.site.number, its.visit),)),),
    )


KIND = Kind(
    "arguments-swapped",
    "Arguments in another order",
    "Line {line} hands “{name}” ({value}) over at place {place}, where “{function}” calls it “{param}”; {why}. "
    "Is the order meant?",
    "a name is handed over for a parameter of another name, while its own name is that of another parameter; or two "
    "arguments have the types that other calls hand over the other way round",
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
