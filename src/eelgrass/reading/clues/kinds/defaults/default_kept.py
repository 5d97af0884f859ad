"""A default value that is one list for all calls."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Changed, LeadsTo
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import is_name
from eelgrass.reading.clues.program_text import Site, evaluated
from eelgrass.reading.expressions.source_tree import own_parts
from eelgrass.trace.program import Function


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each parameter whose default is a container: two calls had the same one, changed by the first."""
    for site in facts.sites:
        if isinstance(site.node, (ast.FunctionDef, ast.AsyncFunctionDef)):
            for name in _defaults(site.node):
                for number, function in enumerate(facts.trace.program.functions):
                    if function.name == site.node.name and _is_of(site, function):
                        yield from _told(facts, site, number, name)


def _is_of(site: Site, function: Function) -> bool:
    decorators = [its.lineno for its in getattr(site.node, "decorator_list", [])]
    return bool(min([site.node.lineno, *decorators]) <= function.line <= site.node.lineno)


def _defaults(node: ast.FunctionDef | ast.AsyncFunctionDef) -> list[str]:
    """The parameters whose defaults are containers written out."""
    arguments = node.args
    by_place = [*arguments.posonlyargs, *arguments.args]
    pairs = [*zip(by_place[len(by_place) - len(arguments.defaults) :], arguments.defaults, strict=True)]
    pairs += [
        (its, default)
        for its, default in zip(arguments.kwonlyargs, arguments.kw_defaults, strict=True)
        if default is not None
    ]
    return [its.arg for its, default in pairs if _is_container(default)]


def _is_container(node: ast.expr) -> bool:
    is_call = isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in ("list", "dict", "set")
    return isinstance(node, (ast.List, ast.Dict, ast.Set)) or is_call


def _told(facts: Facts, site: Site, function: int, name: str) -> Iterator[Sighting]:
    before: dict[int, int] = {}
    for frame in facts.frames_of(function):
        first = int(facts.trace.frames.first[frame])
        number = facts.object_named(name, frame, first)
        if number is None:
            continue
        if number not in before:
            before[number] = frame
            continue
        earlier = before[number]
        begun = int(facts.trace.frames.first[earlier])
        changes = facts.changes_of(number, begun, len(facts.trace.steps))
        if changes and not any(_is_handed(facts, number, one) for one in (earlier, frame)):
            yield Sighting(
                site.number,
                0.4 if _is_memory(site, name) else 0.95,
                {"function": site.node.name, "name": name, "changed": facts.line(changes[0])},  # type: ignore[attr-defined]
                (
                    Evidence(changes[0], f"“{name}” is changed.", (Changed(number, changes[0], changes[0] + 1),)),
                    Evidence(
                        first, f"Another call begins with the same “{name}”.", (LeadsTo(name, number, frame, first),)
                    ),
                ),
            )
            return


def _is_memory(site: Site, name: str) -> bool:
    """Whether a function asks its default what it found out earlier, for what it was handed: it looks whether a key is
    there, gives back what stands under the key, and never all of it."""
    asks = any(
        isinstance(its, ast.Compare)
        and isinstance(its.ops[0], (ast.In, ast.NotIn))
        and is_name(its.comparators[0], name)
        for its in ast.walk(site.node)
    )
    gives = [its.value for its in ast.walk(site.node) if isinstance(its, ast.Return)]
    return asks and any(isinstance(its, ast.Subscript) and is_name(its.value, name) for its in gives)


def _is_handed(facts: Facts, number: int, frame: int) -> bool:
    """Whether the statement that called a frame has anything in it that leads to an object."""
    call = int(facts.trace.frames.call_step[frame])
    site = facts.site_at(call) if call >= 0 else None
    parts = own_parts(site.node) if site is not None else []
    leading = (
        its for part in parts for its in evaluated(part) if isinstance(its, (ast.Name, ast.Attribute, ast.Subscript))
    )
    return call < 0 or any(facts.object_of(its, call) == number for its in leading)


KIND = Kind(
    "default-kept",
    "One default for all calls",
    "“{name}” of “{function}” (line {line}) is one object for all calls that leave it out: what line {changed} changed "
    "is changed for all of them. Should each call begin with one of its own?",
    "two calls without that argument got the same container, and it was changed",
    "strong; weak where the function only looks up in it what it found out in earlier calls",
    """\
def add_crab(name, crabs=[]): #!
    crabs.append(name)
    return crabs

print(add_crab("Nip"))
print(add_crab("Sidle"))
""",
    """\
def add_crab(name, crabs=None):
    if crabs is None:
        crabs = []
    crabs.append(name)
    return crabs

print(add_crab("Nip"))
print(add_crab("Sidle"))
""",
    find,
)
