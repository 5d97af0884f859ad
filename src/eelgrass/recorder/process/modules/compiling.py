"""From a module's bytes to code with hooks among its constants."""

from __future__ import annotations

import io
import sys
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from operator import is_not
from tokenize import detect_encoding
from types import CodeType
from typing import Any

from eelgrass.recorder.contract import MARK
from eelgrass.recorder.hooks.table import Hooks
from eelgrass.recorder.packing import IS_COMPILED
from eelgrass.recorder.process.call_stack import room_in_c
from eelgrass.recorder.process.modules.own_modules import OwnModules
from eelgrass.recorder.process.modules.parsing import parsed
from eelgrass.recorder.weaving.by_elements import ByElements
from eelgrass.recorder.weaving.name_rules import NameRules
from eelgrass.recorder.weaving.points import Points
from eelgrass.recorder.weaving.statements import Weaver

#: Calls for a tree of the depth that the compiler takes (three times the limit of calls), a few for each node.
_DEEPEST = 30_000


def woven_code(source: bytes, file: str, points: Points, hooks: Hooks, own: OwnModules) -> CodeType:
    """The module's code with hooks; its tables are left in `points`.

    Whatever compiling says of the text (SyntaxError, ValueError, warnings) is said by compiling the plain text first,
    so that it is what a plain run says.
    """
    compile(source, file, "exec", dont_inherit=True)
    with _deep(), _silence():
        tree = parsed(source, file)
        own.look_around(tree, file)
        rules = NameRules(tree, own.__contains__, own.surroundings)
        if IS_COMPILED or rules.may_be_threaded:
            hooks.threads.tell_apart()
        looks = hooks.threads.are_told and not IS_COMPILED
        weaver = Weaver(points, tree, rules, looks, takes_turns=hooks.begin_turns(own.surroundings.outside))
        if rules.sees_lifetimes:
            hooks.log.registry.let_live()
        tree = weaver.module()
        if IS_COMPILED:
            tree = ByElements().visit(tree)
        code = compile(tree, file, "exec", dont_inherit=True)
        return with_constants(code, hooks)


def is_understood(source: bytes) -> bool:
    """Whether a module's text compiles; nothing is said of it."""
    with _silence():
        try:
            compile(source, "", "exec", dont_inherit=True)
        except Exception:
            return False
    return True


@contextmanager
def _deep() -> Iterator[None]:
    """Room for walks through a tree as deep as the compiler takes it, such as a sum of 900 terms; most are by functions
    in Python, which take none of the C stack."""
    limit = sys.getrecursionlimit()
    sys.setrecursionlimit(limit + _DEEPEST)
    room_in_c(_DEEPEST)
    try:
        yield
    finally:
        room_in_c(-_DEEPEST)
        sys.setrecursionlimit(limit)


@contextmanager
def _silence() -> Iterator[None]:
    """No warnings. The compiler asks the module `warnings` that the program sees, so ours stands in for it
    meanwhile."""
    theirs = sys.modules.get("warnings")
    sys.modules["warnings"] = warnings
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            yield
    finally:
        del sys.modules["warnings"]
        if theirs is not None:
            sys.modules["warnings"] = theirs


def with_constants(code: CodeType, hooks: Hooks) -> CodeType:
    """The code, and all code nested in it, with marked text constants replaced by objects."""

    def replaced(constant: Any) -> Any:
        if isinstance(constant, CodeType):
            return with_constants(constant, hooks)
        if type(constant) is str and constant.startswith(MARK):
            return hooks.constant(constant[len(MARK) :])
        if type(constant) is tuple:  # arguments of a hook, if all of them are constants
            parts = tuple(map(replaced, constant))
            return parts if any(map(is_not, parts, constant)) else constant
        return constant

    return code.replace(co_consts=tuple(map(replaced, code.co_consts)))


def source_text(source: bytes) -> str:
    """The text as Python reads it: by its encoding declaration, with line ends as `\\n`."""
    encoding, _ = detect_encoding(io.BytesIO(source).readline)
    return io.TextIOWrapper(io.BytesIO(source), encoding, errors="replace").read()


def encoded(text: str) -> bytes:
    """A module's text as bytes, by the encoding that it declares."""
    encoding, _ = detect_encoding(io.BytesIO(text.encode("utf-8", "replace")).readline)
    return text.encode(encoding, "replace")
