"""The text of a recorded program, by its statements and their parts: what kinds of clues look for first."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import TypeVar

from eelgrass.reading.expressions.source_tree import DEFINING, header_targets, lines_of_definition, own_parts
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.name_lookup import owning_function
from eelgrass.reading.stepping.loops import LOOPS

_CHARACTERS = 36
_Node = TypeVar("_Node", bound=ast.AST)


@dataclass(frozen=True)
class Site:
    """A statement of the text: its number, its tree, and the number of the function that it stands in."""

    number: int
    node: ast.stmt
    function: int


class ProgramText:
    """The statements of one recording's text, with what is around them and what names they read and store."""

    def __init__(self, recording: Recording) -> None:
        self.recording = recording
        self.trace = recording.trace

    @cached_property
    def sites(self) -> list[Site]:
        """Every statement whose text is known."""
        syntax = self.recording.worked_lines.syntax
        found = []
        for number, its in enumerate(self.trace.program.statements):
            node = syntax.statement(number)
            if node is not None:
                found.append(Site(number, node, its.function))
        return found

    @cached_property
    def _by_node(self) -> dict[int, Site]:
        return {id(site.node): site for site in self.sites}

    def site_of(self, node: ast.AST) -> Site | None:
        """The statement whose tree this is."""
        return self._by_node.get(id(node))

    @cached_property
    def definitions(self) -> list[Site]:
        """The statements that define functions and classes."""
        return [its for its in self.sites if isinstance(its.node, (*DEFINING, ast.ClassDef))]

    @cached_property
    def _by_number(self) -> dict[int, Site]:
        return {site.number: site for site in self.sites}

    @cached_property
    def _parts(self) -> dict[type[ast.AST], list[tuple[Site, ast.AST]]]:
        found: dict[type[ast.AST], list[tuple[Site, ast.AST]]] = {}
        for site in self.sites:
            found.setdefault(type(site.node), []).append((site, site.node))
            for part in own_parts(site.node):
                for node in evaluated(part):
                    if node is not site.node:
                        found.setdefault(type(node), []).append((site, node))
        return found

    def all(self, kind: type[_Node]) -> Iterator[tuple[Site, _Node]]:
        """Every statement or part of a kind that is evaluated in the frame of its statement, with that statement."""
        for site, node in self._parts.get(kind, ()):
            if isinstance(node, kind):
                yield site, node

    def site(self, number: int) -> Site | None:
        """A statement by its number."""
        return self._by_number.get(number)

    def site_at(self, step: int) -> Site | None:
        """The statement that stands at a step; None where none does, or its text is not known."""
        return self.site(int(self.trace.steps.statement[step]))

    def parent(self, site: Site) -> Site | None:
        """The compound statement that a statement stands in."""
        return self._by_number.get(self.trace.program.statements[site.number].parent)

    def arm(self, site: Site) -> int:
        """The arm of that compound statement: 0 body, 1 else, 2 handler, 3 finally."""
        return self.trace.program.statements[site.number].arm

    @cached_property
    def _standing_in(self) -> dict[int, list[Site]]:
        found: dict[int, list[Site]] = {}
        for site in self.sites:
            its = self.parent(site)
            while its is not None:
                found.setdefault(its.number, []).append(site)
                its = self.parent(its)
        return found

    def all_in(self, around: Site) -> list[Site]:
        """The statements that stand in another, at any depth."""
        return self._standing_in.get(around.number, [])

    def children(self, around: Site | None, function: int) -> list[Site]:
        """The statements of a function that stand in another directly, in the order of the text; None: in none."""
        return self._children.get((around.number if around is not None else -1, function), [])

    @cached_property
    def _children(self) -> dict[tuple[int, int], list[Site]]:
        found: dict[tuple[int, int], list[Site]] = {}
        for site in sorted(self.sites, key=lambda its: its.node.lineno):
            parent = self.parent(site)
            found.setdefault((parent.number if parent is not None else -1, site.function), []).append(site)
        return found

    def neighbour(self, site: Site, away: int) -> Site | None:
        """The statement so many places behind another one (before it, if negative) among the children of its parent;
        None where there is none, or it stands in another arm."""
        block, place = self._places[site.number]
        found = block[place + away] if 0 <= place + away < len(block) else None
        return found if found is not None and self.arm(found) == self.arm(site) else None

    @cached_property
    def _places(self) -> dict[int, tuple[list[Site], int]]:
        return {its.number: (block, place) for block in self._children.values() for place, its in enumerate(block)}

    def inside(self, site: Site, around: Site) -> bool:
        """Whether a statement stands in another, at any depth."""
        its = self.parent(site)
        while its is not None:
            if its.number == around.number:
                return True
            its = self.parent(its)
        return False

    def definition_of(self, function: int) -> Site | None:
        """The `def` of a function."""
        return self._definition_of.get(function)

    @cached_property
    def _definition_of(self) -> dict[int, Site]:
        functions = self.trace.program.functions
        by_name: dict[str, list[int]] = {}
        for number, its in enumerate(functions):
            by_name.setdefault(its.name, []).append(number)
        return {
            number: site
            for site in self.definitions
            if isinstance(site.node, DEFINING)
            for number in by_name.get(site.node.name, ())
            if functions[number].module == functions[site.function].module
            if functions[number].line in lines_of_definition(site.node)
        }

    def inside_at(self, step: int, around: Site) -> bool:
        """Whether the statement of a step stands in another."""
        if not 0 <= step < len(self.trace.steps):
            return False
        site = self.site_at(step)
        return site is not None and self.inside(site, around)

    def loop_around(self, site: Site) -> Site | None:
        """The innermost loop in whose body a statement stands."""
        its = site
        while (outer := self.parent(its)) is not None:
            if self.trace.program.statements[outer.number].kind in LOOPS and self.arm(its) == 0:
                return outer
            its = outer
        return None

    @cached_property
    def names(self) -> dict[tuple[int, str, bool], list[Site]]:
        """The statements of each (function, name, whether they read it or store it)."""
        found: dict[tuple[int, str, bool], dict[int, Site]] = {}
        for site in self.sites:
            nodes = [*own_parts(site.node), *header_targets(site.node)]
            for name in (its for part in nodes for its in names_of(part)):
                loads = isinstance(name.ctx, ast.Load)
                found.setdefault((site.function, name.id, loads), {})[site.number] = site
                if isinstance(site.node, ast.AugAssign) and site.node.target is name:
                    found.setdefault((site.function, name.id, True), {})[site.number] = site
        return {key: list(its.values()) for key, its in found.items()}

    def loads(self, function: int, name: str) -> list[Site]:
        """The statements of a function that read a name."""
        return self.names.get((function, name, True), [])

    def stores(self, function: int, name: str) -> list[Site]:
        """The statements of a function that store a name."""
        return self.names.get((function, name, False), [])

    def seen_by(self, function: int, name: str) -> list[int]:
        """The functions whose other frames see the variable which a name is in a frame of a function."""
        owner = owning_function(self.trace.program, function, name)
        return [its for its in self._seeing.get((owner, name), ()) if its != function or function != owner]

    @cached_property
    def _seeing(self) -> dict[tuple[int, str], list[int]]:
        program, found = self.trace.program, dict[tuple[int, str], list[int]]()
        for number, its in enumerate(program.functions):
            seen = its.local if its.kind == "module" else (*its.free, *its.global_)
            for name in seen:
                found.setdefault((owning_function(program, number, name), name), []).append(number)
        for owner, name in list(found):
            if owner >= 0 and owner not in found[owner, name]:
                found[owner, name].append(owner)
        return found

    @cached_property
    def fields_read(self) -> set[str]:
        """The names of all fields that are read somewhere."""
        return {node.attr for _, node in self.all(ast.Attribute) if isinstance(node.ctx, ast.Load)}

    def loads_anywhere(self, name: str) -> list[Site]:
        """The statements of the whole program that read a name."""
        return self._anywhere.get((name, True), [])

    def stores_anywhere(self, name: str) -> list[Site]:
        """The statements of the whole program that store a name."""
        return self._anywhere.get((name, False), [])

    @cached_property
    def _anywhere(self) -> dict[tuple[str, bool], list[Site]]:
        found: dict[tuple[str, bool], list[Site]] = {}
        for (_, name, loads), sites in self.names.items():
            found.setdefault((name, loads), []).extend(sites)
        return found


_SCOPES = (ast.ListComp, ast.SetComp, ast.DictComp, ast.GeneratorExp)


def evaluated(node: ast.AST) -> Iterator[ast.AST]:
    """A part of the text and all in it that the same frame evaluates: of a comprehension, only what it goes through
    first; nothing of a `lambda`."""
    yield node
    if isinstance(node, _SCOPES):
        yield from evaluated(node.generators[0].iter)
    elif not isinstance(node, ast.Lambda):
        for its in ast.iter_child_nodes(node):
            yield from evaluated(its)


def names_of(node: ast.AST, hidden: frozenset[str] = frozenset()) -> Iterator[ast.Name]:
    """The names in a part of the text that are not a comprehension's or a `lambda`'s own."""
    if isinstance(node, ast.Name):
        if node.id not in hidden:
            yield node
        return
    if isinstance(node, _SCOPES):
        hidden |= {its.id for clause in node.generators for its in ast.walk(clause.target) if isinstance(its, ast.Name)}
    elif isinstance(node, ast.Lambda):
        hidden |= {its.arg for its in ast.walk(node.args) if isinstance(its, ast.arg)}
    for its in ast.iter_child_nodes(node):
        yield from names_of(its, hidden)


def names_in(*nodes: ast.AST) -> set[str]:
    """The names in some parts of the text."""
    return {its.id for node in nodes for its in ast.walk(node) if isinstance(its, ast.Name)}


def source(node: ast.AST) -> str:
    """A part of the text, for a sentence."""
    text = ast.unparse(node)
    return text if len(text) <= _CHARACTERS else text[: _CHARACTERS - 1] + "…"
