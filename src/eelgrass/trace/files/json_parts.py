"""The JSON parts of a recording's file: their types, which say what may stand in them, and the schema made of these."""

from __future__ import annotations

import json
from inspect import cleandoc
from typing import Annotated, Any, TypeVar

import msgspec

from eelgrass.trace.model import Outcome
from eelgrass.trace.program import Expression, Function, Module, Statement

FORMAT = "eelgrass recording"
_Rows = Annotated[int, msgspec.Meta(ge=0, lt=1 << 31)]
_Part = TypeVar("_Part")


class FileKind(msgspec.Struct):
    """What a file of any version says of itself in `manifest.json`."""

    format: str = ""
    version: int = 0


class Manifest(msgspec.Struct):
    """`manifest.json`: what the file is, how the run was started and how it ended, and the length of each column."""

    format: str
    version: int
    outcome: Outcome
    case: dict[str, Any]
    rows: dict[str, _Rows]


class ProgramPart(msgspec.Struct):
    """`program.json`: the text of the program, and the tables that columns point into."""

    modules: list[Module]
    functions: list[Function]
    statements: list[Statement]
    expressions: list[Expression]
    shapes: list[str]
    types: list[str]


def encoded(part: Manifest | ProgramPart) -> bytes:
    """A part as JSON. Halves of surrogate pairs, which only odd file names hold, become question marks."""
    return json.dumps(msgspec.to_builtins(part), ensure_ascii=False).encode("utf-8", "replace")


def decoded(data: bytes, type_: type[_Part]) -> _Part:
    """A part from JSON, which is not believed to be one. Raises ValueError or RecursionError."""
    return msgspec.json.decode(data, type=type_)


def nesting(told: Any) -> int:
    """How deep lists and dictionaries are inside of one another."""
    depth, level = 0, [told]
    while level:
        inner = [
            its for one in level for its in (one.values() if type(one) is dict else one if type(one) is list else ())
        ]
        level, depth = [its for its in inner if type(its) in (dict, list)], depth + 1
    return depth


def schema() -> dict[str, Any]:
    """The JSON Schema of the parts, as `docs/formats/recording.schema.json` has it."""
    _, components = msgspec.json.schema_components([Manifest, ProgramPart], ref_template="#/$defs/{name}")
    for part in components.values():  # whose descriptions are docstrings, which later versions have without indentation
        part["description"] = cleandoc(part["description"])
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "$defs": components}
