"""What the names in a module's text say of what its code may reach."""

from __future__ import annotations

import ast
from collections.abc import Callable, Iterator

from eelgrass.recorder.weaving.nodes import names_imported

#: Libraries that change nothing of what they are handed, as far as anybody could see it.
_HARMLESS = frozenset(
    (
        *("abc", "ast", "calendar", "cmath", "collections", "colorsys", "copy", "dataclasses", "datetime", "decimal"),
        *("difflib", "enum", "fractions", "functools", "inspect", "itertools", "json", "math", "numbers", "os"),
        *("pathlib", "platform", "re", "statistics", "string", "sys", "textwrap", "time", "typing", "unicodedata"),
    )
)
#: Names by which a program can tell how long an object lives.
LIFETIMES = frozenset(("__del__", "weakref", "gc", "getrefcount", "_weakref"))


#: Functions that set or end what we have a part in: the hook that their first argument goes through.
ARGUMENTS = {
    **{"setrecursionlimit": "limit_set", "setswitchinterval": "interval_set"},
    **{"settrace": "tracer", "setprofile": "tracer"},
    **dict.fromkeys(("_exit", "kill", "killpg", "raise_signal", "string_at"), "flushed"),
    **dict.fromkeys(("execv", "execve", "execvp", "execl"), "flushed"),
}
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


def outside_names(tree: ast.Module, is_own: Callable[[str], bool]) -> Iterator[str]:
    """The names that imports bind to code which is not woven and not known to be harmless."""
    for node in ast.walk(tree):
        if isinstance(node, ast.ImportFrom):
            modules = [node.module or "."] * len(node.names) if not node.level else []
        elif isinstance(node, ast.Import):
            modules = [alias.name for alias in node.names]
        else:
            continue
        for module, name in zip(modules, names_imported(node), strict=False):
            root = module.partition(".")[0]
            if root not in _HARMLESS and not is_own(root):
                yield name
