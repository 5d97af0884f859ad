"""What the names in a module's text say of what its code may reach."""

from __future__ import annotations

import ast
from collections.abc import Callable, Iterator

from eelgrass.recorder.contract import (
    BOARD_MODULES,
    CHANGING_ONLY,
    HARMLESS,
    KNOWN_WAYS,
    OUTSIDE_MODULES,
    OUTSIDE_NAMES,
    THREAD_MODULES,
    TURN_MODULES,
    WINDOW_MODULES,
)
from eelgrass.recorder.weaving.nodes import names_imported

_DEFINITIONS = (ast.FunctionDef, ast.AsyncFunctionDef, ast.ClassDef)
#: Names by which a program can tell how long an object lives.
LIFETIMES = frozenset(("__del__", "weakref", "gc", "getrefcount", "_weakref"))
#: Methods that change their receiver in place, by the usual containers' names for them.
MUTATORS = frozenset(
    (
        *("append", "appendleft", "extend", "extendleft", "insert", "remove", "pop", "popleft", "clear"),
        *("sort", "reverse", "rotate", "popitem", "update", "setdefault", "move_to_end", "subtract", "fill"),
        *("add", "discard", "difference_update", "intersection_update", "symmetric_difference_update"),
        *("__setitem__", "__delitem__", "__iadd__", "__setattr__", "__delattr__"),
    )
)

#: Functions that set or end what we have a part in: the hook that their first argument goes through.
ARGUMENTS = {
    **{"setrecursionlimit": "limit_set", "setswitchinterval": "interval_set"},
    **{"settrace": "tracer", "setprofile": "tracer"},
    **dict.fromkeys(("_exit", "kill", "killpg", "raise_signal", "string_at"), "flushed"),
    **dict.fromkeys(("execv", "execve", "execvp", "execl"), "flushed"),
}
#: Of such without an argument, the hook that they themselves go through.
THEMSELVES = {"abort": "flushed"}
#: Functions that say what is set: the hook that their answer goes through.
ANSWERS = {
    **{"getrecursionlimit": "limit_seen", "getswitchinterval": "interval_seen"},
    **{"gettrace": "traced_by", "getprofile": "traced_by"},
}


def names_in(tree: ast.AST) -> set[str]:
    """Every name, attribute and imported module in a text, modules by the first part of their names."""
    found = set()
    for part in ast.walk(tree):
        for field in ("id", "attr", "name", "module"):
            name = getattr(part, field, None)
            if isinstance(name, str):
                found.add(name.partition(".")[0])
    return found


class Surroundings:
    """What the names of all modules that were seen so far say: one may hand to another what only its own text names."""

    def __init__(self) -> None:
        self.may_grow = False
        self.stored_late: set[str] = set()
        self.has_windows = self.has_board = False
        self._has_threads, self._outside = False, set[str]()

    def see(self, tree: ast.Module) -> None:
        """One more module."""
        self.may_grow = self.may_grow or not names_in(tree).isdisjoint(("defaultdict", "__missing__"))
        self.stored_late.update(_stored_late(tree))
        roots = {root for root, _, _ in _imports(tree)}
        self.has_windows = self.has_windows or not roots.isdisjoint(WINDOW_MODULES)
        self.has_board = self.has_board or not roots.isdisjoint(BOARD_MODULES)
        self._has_threads = self._has_threads or not roots.isdisjoint(TURN_MODULES)
        self._outside |= (roots & OUTSIDE_MODULES) | (names_in(tree) & OUTSIDE_NAMES)

    @property
    def outside(self) -> str | None:
        """For a program with threads, what keeps them from taking turns, '' for nothing; None for one without."""
        return min(self._outside, default="") if self._has_threads else None


class NameRules:
    """What the names of one module's text say.

    `outside`: imported names that lead to code which is not woven and may change what it is handed; `changing`: names
    of modules of which only these functions may; `known_ways`: those
    of them whose way of doing it is known. `may_grow`: reading
    an element may put it there. `stored_late`: fields that are stored when they are first read. `escapes`: something
    in the text leads into objects past every statement. `sees_lifetimes`: it may notice when an object goes.
    """

    def __init__(self, tree: ast.Module, is_own: Callable[[str], bool], around: Surroundings) -> None:
        """`is_own` says which imported modules are woven."""
        names = names_in(tree)
        self.outside = frozenset(outside_names(tree, is_own))
        self.changing = {
            name: CHANGING_ONLY[root] for root, of, name in _imports(tree) if root in CHANGING_ONLY and not of
        }
        self.known_ways = frozenset(_names_from(tree, KNOWN_WAYS))
        self.sees_lifetimes = not names.isdisjoint(LIFETIMES)
        self.may_be_threaded = not names.isdisjoint(THREAD_MODULES)
        self.may_grow = around.may_grow
        self.stored_late = frozenset(around.stored_late)
        self.escapes = "__dict__" in names or "vars" in names or _keeps_methods(tree, MUTATORS)
        self._defined = frozenset(node.name for node in ast.walk(tree) if isinstance(node, _DEFINITIONS))
        self._imported = frozenset(name for node in ast.walk(tree) for name in names_imported(node))
        self._modules = frozenset(
            name for node in ast.walk(tree) if isinstance(node, ast.Import) for name in names_imported(node)
        )
        self._stored = frozenset(
            node.id for node in ast.walk(tree) if isinstance(node, ast.Name) and not isinstance(node.ctx, ast.Load)
        )

    def is_known(self, name: str) -> bool:
        """Whether what is called by this name is woven itself, or harmless: defined here and nothing else, or
        imported."""
        return name not in self._stored and (name in self._defined or name in self._imported - self.outside)

    def is_module(self, name: str) -> bool:
        """Whether a name stands for a module that changes nothing, or is woven itself."""
        return name in self._modules and name not in self.outside and name not in self._stored


def _stored_late(tree: ast.Module) -> Iterator[str]:
    for node in ast.walk(tree):
        if isinstance(node, ast.FunctionDef):
            names = {name for decorator in node.decorator_list for name in names_in(decorator)}
            if "cached_property" in names:
                yield node.name


def _keeps_methods(tree: ast.Module, mutators: frozenset[str]) -> bool:
    """Whether a method that changes its receiver is used in other ways than by calling it."""
    called = {id(node.func) for node in ast.walk(tree) if isinstance(node, ast.Call)}
    return any(
        isinstance(node, ast.Attribute) and node.attr in mutators and id(node) not in called for node in ast.walk(tree)
    )


def outside_names(tree: ast.Module, is_own: Callable[[str], bool]) -> Iterator[str]:
    """The names that imports bind to code which is not woven and not known to be harmless."""
    for root, function, name in _imports(tree):
        changes = function in CHANGING_ONLY[root] if root in CHANGING_ONLY else root not in HARMLESS
        if changes and not is_own(root):
            yield name


def _names_from(tree: ast.Module, modules: frozenset[str]) -> Iterator[str]:
    return (name for root, _, name in _imports(tree) if root in modules)


def _imports(tree: ast.Module) -> Iterator[tuple[str, str, str]]:
    """(the first part of the module's name, what is imported from it or '' for itself, the name that is bound) for
    everything imported that is not relative."""
    for node in ast.walk(tree):
        if isinstance(node, ast.ImportFrom):
            modules = [node.module or "."] * len(node.names) if not node.level else []
        elif isinstance(node, ast.Import):
            modules = [alias.name for alias in node.names]
        else:
            continue
        for module, alias, name in zip(modules, node.names, names_imported(node), strict=False):
            yield module.partition(".")[0], alias.name if isinstance(node, ast.ImportFrom) else "", name
