"""The text of a recorded program and the tables that steps point into."""

from __future__ import annotations

from dataclasses import dataclass, field

#: The arm of a statement that is a lambda or comprehension inside of another statement.
EXPRESSION = 4


@dataclass(frozen=True)
class Module:
    """One source file."""

    file: str
    source: str


@dataclass(frozen=True)
class Function:
    """A module ('<module>'), a class body or a function of the text. `parent` is the function around it, or -1.

    The name lists are what the compiler knows: parameters, all local names, names of enclosing functions, names looked
    up in the module.
    """

    module: int
    name: str
    kind: str  # "module", "class", "function" or, but for generator expressions, "comprehension"
    waits: bool  # whether its frames can be suspended
    parent: int
    line: int
    params: tuple[str, ...]
    local: tuple[str, ...]
    free: tuple[str, ...]
    global_: tuple[str, ...]


@dataclass(frozen=True)
class Statement:
    """A statement's place (lines from 1, columns in UTF-8 bytes from 0), kind (`if`, `assign`, …), and the compound
    statement that it stands in (-1: none) with the arm of it (0 body, 1 else, 2 handler, 3 finally, 4: it is a lambda
    or comprehension in its expressions)."""

    line: int
    column: int
    end_line: int
    end_column: int
    kind: str
    function: int
    parent: int
    arm: int


@dataclass(frozen=True)
class Expression:
    """A part of a statement whose value was recorded: its place, kind (`call`, `yield`, …), and statement (-1:
    none)."""

    line: int
    column: int
    end_line: int
    end_column: int
    kind: str
    statement: int


@dataclass
class Program:
    """All modules of a recording, with functions, statements and expressions numbered through them."""

    modules: list[Module] = field(default_factory=list)
    functions: list[Function] = field(default_factory=list)
    statements: list[Statement] = field(default_factory=list)
    expressions: list[Expression] = field(default_factory=list)

    def module_of(self, function: int) -> Module:
        """The module that a function's text stands in."""
        return self.modules[self.functions[function].module]
