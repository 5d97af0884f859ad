"""Which scope each name of a function belongs to, worked out from the text as the compiler does."""

from __future__ import annotations

import ast
from collections.abc import Iterable, Iterator

FunctionNode = ast.FunctionDef | ast.AsyncFunctionDef | ast.Lambda
Comprehension = ast.ListComp | ast.SetComp | ast.DictComp | ast.GeneratorExp
Opening = ast.ClassDef | FunctionNode | Comprehension
COMPREHENSION_NAMES = {
    ast.ListComp: "<listcomp>",
    ast.SetComp: "<setcomp>",
    ast.DictComp: "<dictcomp>",
    ast.GeneratorExp: "<genexpr>",
}


class Scope:
    """The names of one module, class body or function.

    `stored`: names bound in it; `read`: names only looked at; `declared_global` and `declared_nonlocal`: as the
    text says. Names are mangled as the compiler mangles them inside classes.
    """

    def __init__(self, kind: str, name: str, parent: Scope | None, params: list[str], class_name: str | None) -> None:
        self.kind = kind
        self.name = name
        self.parent = parent
        self.params = params
        self.class_name = class_name
        self.stored: dict[str, None] = dict.fromkeys(params)
        self.read: dict[str, None] = {}
        self.declared_global: set[str] = set()
        self.declared_nonlocal: set[str] = set()
        self.yields = False

    @property
    def is_comprehension(self) -> bool:
        """Whether this is a comprehension's or generator expression's scope."""
        return self.name in COMPREHENSION_NAMES.values()

    def mangled(self, name: str) -> str:
        """The name as the compiler stores it: `__x` inside `class Crab` is `_Crab__x`."""
        owner = (self.class_name or "").lstrip("_")
        if not owner or not name.startswith("__") or name.endswith("__") or "." in name:
            return name
        return f"_{owner}{name}"

    def binds(self, name: str) -> bool:
        """Whether the name is local here."""
        return name in self.stored and name not in self.declared_global and name not in self.declared_nonlocal

    def where(self, name: str) -> str:
        """'local', 'free' (of an enclosing function) or 'global' for a mangled name."""
        if name in self.declared_global or self.kind == "module":
            return "global" if self.kind != "module" else "local"
        if self.binds(name):
            return "local"
        scope = self.parent
        while scope is not None and scope.kind != "module":
            if scope.kind in ("function", "comprehension") and scope.binds(name):
                return "free"
            scope = scope.parent
        return "global"

    def _names(self, where: str) -> list[str]:
        return [name for name in {**self.stored, **self.read} if self.where(name) == where]

    def local_names(self) -> list[str]:
        """Names bound here, parameters first."""
        return self._names("local") if self.kind != "module" else list(self.stored)

    def free_names(self) -> list[str]:
        """Names of enclosing functions that are used here."""
        return self._names("free")

    def global_names(self) -> list[str]:
        """Module-level and built-in names that are used here."""
        return self._names("global") if self.kind != "module" else []


class _Collector(ast.NodeVisitor):
    """Fills one scope; nested functions and classes only contribute what runs in this scope."""

    def __init__(self, scope: Scope) -> None:
        self.scope = scope
        self.hidden: list[set[str]] = []  # targets of the comprehensions around, which are no names of this scope

    def visit_Name(self, node: ast.Name) -> None:
        name = self.scope.mangled(node.id)
        if any(name in targets for targets in self.hidden):
            return
        into = self.scope.read if isinstance(node.ctx, ast.Load) else self.scope.stored
        into.setdefault(name)

    def visit_NamedExpr(self, node: ast.NamedExpr) -> None:
        name = self.scope.mangled(node.target.id)
        self.scope.stored.setdefault(name)
        if self.scope.is_comprehension:
            self.scope.declared_nonlocal.add(name)  # it belongs to the scope around
        self.visit(node.value)

    def visit_Global(self, node: ast.Global) -> None:
        self.scope.declared_global.update(map(self.scope.mangled, node.names))

    def visit_Nonlocal(self, node: ast.Nonlocal) -> None:
        self.scope.declared_nonlocal.update(map(self.scope.mangled, node.names))

    def _store(self, name: str | None) -> None:
        if name is not None:
            self.scope.stored.setdefault(self.scope.mangled(name))

    def visit_ExceptHandler(self, node: ast.ExceptHandler) -> None:
        self._store(node.name)
        self.generic_visit(node)

    def visit_MatchAs(self, node: ast.MatchAs) -> None:
        self._store(node.name)
        self.generic_visit(node)

    def visit_MatchStar(self, node: ast.MatchStar) -> None:
        self._store(node.name)

    def visit_MatchMapping(self, node: ast.MatchMapping) -> None:
        self._store(node.rest)
        self.generic_visit(node)

    def visit_Import(self, node: ast.Import | ast.ImportFrom) -> None:
        for alias in node.names:
            if alias.name != "*":
                self._store(alias.asname or alias.name.partition(".")[0])

    visit_ImportFrom = visit_Import

    def _visit_function(self, node: ast.FunctionDef | ast.AsyncFunctionDef) -> None:
        self._store(node.name)
        for part in (*node.decorator_list, node.args):
            self.visit(part)
        if node.returns is not None:
            self.visit(node.returns)

    visit_FunctionDef = visit_AsyncFunctionDef = _visit_function

    def visit_Lambda(self, node: ast.Lambda) -> None:
        self.visit(node.args)

    def visit_arg(self, node: ast.arg) -> None:
        if node.annotation is not None:
            self.visit(node.annotation)

    def visit_ClassDef(self, node: ast.ClassDef) -> None:
        self._store(node.name)
        for part in (*node.decorator_list, *node.bases, *node.keywords):
            self.visit(part)

    def _visit_comprehension(self, node: ast.AST) -> None:
        targets = {
            name.id
            for generator in getattr(node, "generators", [])
            for name in ast.walk(generator.target)
            if isinstance(name, ast.Name)
        }
        self.hidden.append(targets)
        self.generic_visit(node)
        self.hidden.pop()

    visit_ListComp = visit_SetComp = visit_DictComp = visit_GeneratorExp = _visit_comprehension

    def _visit_yield(self, node: ast.AST) -> None:
        self.scope.yields = True
        self.generic_visit(node)

    visit_Yield = visit_YieldFrom = _visit_yield


def parameters(node: FunctionNode) -> list[str]:
    """Parameter names in the order in which they are shown: positional, keyword, then the starred ones."""
    args = node.args
    plain = [arg.arg for arg in (*args.posonlyargs, *args.args, *args.kwonlyargs)]
    return plain + [arg.arg for arg in (args.vararg, args.kwarg) if arg is not None]


def scope_of(node: ast.Module | Opening, parent: Scope | None) -> Scope:
    """The scope that `node` opens, with the names of its own body collected."""
    class_name = parent.class_name if parent else None
    if isinstance(node, ast.Module):
        scope = Scope("module", "<module>", None, [], None)
    elif isinstance(node, ast.ClassDef):
        scope = Scope("class", node.name, parent, [], node.name)
    elif isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef, ast.Lambda)):
        name = "<lambda>" if isinstance(node, ast.Lambda) else node.name
        scope = Scope("function", name, parent, parameters(node), class_name)
        scope.params = [scope.mangled(param) for param in scope.params]
        scope.stored = dict.fromkeys(scope.params)
    else:
        # A generator expression may run long after the frame that made it; the others run at once.
        kind = "function" if isinstance(node, ast.GeneratorExp) else "comprehension"
        scope = Scope(kind, COMPREHENSION_NAMES[type(node)], parent, [], class_name)
    collector = _Collector(scope)
    for part in _body(node):
        collector.visit(part)
    if not isinstance(node, ast.Module):
        # What a function inside needs of one outside has to be handed through.
        scope.read.update(dict.fromkeys(name for name in _needed_inside(scope, node) if scope.where(name) == "free"))
    return scope


def _body(node: Opening | ast.Module) -> list[ast.AST]:
    """What runs in the scope that `node` opens."""
    if isinstance(node, ast.Lambda):
        return [node.body]
    if isinstance(node, (ast.Module, ast.ClassDef, ast.FunctionDef, ast.AsyncFunctionDef)):
        return [*node.body]
    first, *others = node.generators
    made = [node.key, node.value] if isinstance(node, ast.DictComp) else [node.elt]
    return [first.target, *first.ifs, *others, *made]


def _opened_in(parts: Iterable[ast.AST]) -> Iterator[Opening]:
    """The nodes that open a scope of their own directly inside of `parts`."""
    for part in parts:
        if isinstance(part, Opening):
            yield part
        else:
            yield from _opened_in(ast.iter_child_nodes(part))


def captured(scope: Scope, node: Opening) -> list[str]:
    """The local names of `scope`, which `node` opens, that functions inside of it may use after it has ended."""
    return [name for name in _needed_inside(scope, node) if scope.binds(name)]


def _needed_inside(scope: Scope, node: Opening) -> dict[str, None]:
    needed: dict[str, None] = {}
    for child in _opened_in(_body(node)):
        inner = scope_of(child, scope)
        if inner.kind != "comprehension":
            needed.update(dict.fromkeys(inner.free_names()))
        needed.update(dict.fromkeys(name for name in _needed_inside(inner, child) if not inner.binds(name)))
    return needed
