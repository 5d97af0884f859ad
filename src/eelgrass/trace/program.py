"""The text of a recorded program and the tables that steps point into."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated

import msgspec

#: A place in the text.
Line = Annotated[int, msgspec.Meta(ge=0, lt=1 << 31)]
#: A number of something, or -1.
Number = Annotated[int, msgspec.Meta(ge=-1, lt=1 << 31)]
#: The arm of a statement that is a lambda or comprehension inside of another statement.
EXPRESSION = 4


@dataclass(frozen=True)
class Module:
    """One source file."""

    file: str
    source: str

    @property
    def lines(self) -> list[str]:
        """The lines of the text, as Python counts them; nothing after the end of the last one."""
        return self.source.removesuffix("\n").split("\n")


@dataclass(frozen=True)
class Place:
    """A line of a program: its file, and its number from 1 (0: nowhere, since what stood there is gone)."""

    file: str
    line: int


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


class Statement(msgspec.Struct, frozen=True, array_like=True):
    """A statement's place (lines from 1, columns in UTF-8 bytes from 0), kind (`if`, `assign`, …), and the compound
    statement that it stands in (-1: none) with the arm of it (0 body, 1 else, 2 handler, 3 finally, 4: it is a lambda
    or comprehension in its expressions)."""

    line: Line
    column: Line
    end_line: Line
    end_column: Line
    kind: str
    function: Number
    parent: Number
    arm: Annotated[int, msgspec.Meta(ge=0, le=EXPRESSION)]


class Expression(msgspec.Struct, frozen=True, array_like=True):
    """A part of a statement whose value was recorded: its place, kind (`call`, `yield`, …), and statement (-1:
    none)."""

    line: Line
    column: Line
    end_line: Line
    end_column: Line
    kind: str
    statement: Number


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
