"""The program's own modules that a module leads to: what happens in one may follow from what another's text says."""

from __future__ import annotations

import ast
import os
from collections.abc import Iterator, Mapping

from eelgrass.recorder.process.modules.parsing import parsed
from eelgrass.recorder.weaving.name_rules import Surroundings

#: So many modules are looked at, at most; of larger programs the others are taken to be without surprises.
_MOST_MODULES = 64


class OwnModules:
    """Modules whose files lie in the program's folder. `texts` run in place of what files hold."""

    def __init__(self, folder: str, texts: Mapping[str, str]) -> None:
        self._folder = folder
        self._texts = texts
        self.surroundings = Surroundings()
        self._seen: set[str] = set()

    def __contains__(self, module: str) -> bool:
        """Whether an import by this name leads to the program's own folder."""
        path = os.path.join(self._folder, module)
        return os.path.exists(path + ".py") or os.path.isdir(path)

    def look_around(self, tree: ast.Module, file: str) -> None:
        """Sees a module, and the own modules that it imports, and those that these import; each once."""
        self._seen.add(file)
        waiting = [(tree, file)]
        for one, its_file in waiting:
            self.surroundings.see(one)
            for path in self._imported(one, its_file):
                other = self._tree(path) if path not in self._seen and len(self._seen) < _MOST_MODULES else None
                if other is not None:
                    self._seen.add(path)
                    waiting.append((other, path))

    def _imported(self, tree: ast.Module, file: str) -> Iterator[str]:
        """The files that imports in a module may lead to."""
        for node in ast.walk(tree):
            if isinstance(node, ast.Import):
                names, base = [alias.name for alias in node.names], self._folder
            elif isinstance(node, ast.ImportFrom):
                base = self._folder
                if node.level:
                    base = os.path.normpath(os.path.join(file, *[os.pardir] * node.level))
                inside = f"{node.module}." if node.module else ""
                names = [node.module or "", *(inside + alias.name for alias in node.names)]
            else:
                continue
            for name in names:
                path = os.path.join(base, *name.split("."))
                yield path + ".py"
                yield os.path.join(path, "__init__.py")

    def _tree(self, path: str) -> ast.Module | None:
        try:
            return parsed(self._texts.get(path) or _read(path))
        except (OSError, SyntaxError, ValueError, RecursionError, MemoryError):
            return None  # which importing it will say


def _read(path: str) -> bytes:
    with open(path, "rb") as file:
        return file.read()
