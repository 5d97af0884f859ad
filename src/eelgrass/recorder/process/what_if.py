"""A run in which names, elements and fields get other values on the way, each just before a statement runs."""

from __future__ import annotations

import ast
import sys
from collections import deque
from collections.abc import Callable
from types import FrameType, MemberDescriptorType
from typing import Any

from eelgrass.recorder import wire
from eelgrass.recorder.hooks.table import Hooks
from eelgrass.recorder.order import Setting
from eelgrass.recorder.process.side_run import harmless_builtins

_KEY, _NAME = (kind * wire.FORMS for kind in (wire.KEY, wire.NAME))
_OPTIMIZED = 1
_CONTAINERS = (list, dict, deque, bytearray)


def _nothing_to_do(_frame: FrameType) -> None:
    """From Python 3.13 on, what is stored in `f_locals` is stored in the frame."""


def _way_of_locals() -> Callable[[FrameType], None]:
    """What stores in a frame what has been stored in its `f_locals`."""
    if sys.version_info >= (3, 13):
        return _nothing_to_do
    import ctypes  # which few runs need

    def store(frame: FrameType) -> None:
        ctypes.pythonapi.PyFrame_LocalsToFast(ctypes.py_object(frame), ctypes.c_int(0))
        frame.f_locals.clear()  # nothing lives longer by it

    return store


class Settings:
    """Sets names, elements and fields in a run of these hooks. Has to be made before the program begins."""

    def __init__(self, hooks: Hooks) -> None:
        self._hooks = hooks
        self._store_locals = _way_of_locals()

    def make(self, frame: FrameType | None, its: Setting) -> str:
        """Sets what is to be set, and has it told; gives a sentence where it cannot be."""
        if frame is None:
            return "The call frame in which something was to be set is not there."
        scope = {**frame.f_globals, **frame.f_locals, "__builtins__": harmless_builtins()}
        try:
            value = _worked_out(its.expression, scope)
        except BaseException as error:  # whatever an expression raises, the run goes no further
            return f"“{its.expression}” cannot be worked out there: {type(error).__name__}: {error}."
        target = ast.parse(its.target, mode="eval").body
        try:
            if isinstance(target, ast.Name):
                self._set_name(frame, its.frame, target.id, value)
            else:
                self._set_part(target, scope, value)
        except BaseException as error:
            said = error.args[0] if isinstance(error, NameError) else f"{type(error).__name__}: {error}"
            return f"“{its.target}” cannot be set there: {said}."
        return ""

    def _set_name(self, frame: FrameType, number: int, name: str, value: Any) -> None:
        """Raises NameError when the name is not there."""
        code = frame.f_code
        is_local = name in (*code.co_varnames, *code.co_cellvars, *code.co_freevars)
        in_body = not code.co_flags & _OPTIMIZED and name in frame.f_locals
        namespace = frame.f_locals if is_local or in_body else frame.f_globals
        if name not in namespace:
            raise NameError("there is no such name")
        namespace[name] = value
        if is_local:
            self._store_locals(frame)
        log = self._hooks.log
        log.registry.plain(value)  # what is told of a new object may have keys of its own
        log.tell(_KEY, name)
        log.tell_of(_NAME, (number,), value)

    def _set_part(self, target: ast.expr, scope: dict[str, Any], value: Any) -> None:
        """Raises whatever comes of it when there is no such element or field."""
        assert isinstance(target, (ast.Subscript, ast.Attribute))
        owner = _worked_out(ast.unparse(target.value), scope)
        if isinstance(target, ast.Subscript):
            _set_element(owner, _worked_out(ast.unparse(target.slice), scope), value)
        else:
            _set_field(owner, target.attr, value)
        self._hooks.changes.handed(None, owner)


def _worked_out(expression: str, scope: dict[str, Any]) -> Any:
    return eval(compile(expression, "<what if>", "eval", dont_inherit=True), scope)


def _set_element(owner: Any, key: Any, value: Any) -> None:
    """Sets an element that is there, by the built-in way. Raises LookupError and TypeError."""
    base = next((base for base in _CONTAINERS if isinstance(owner, base)), None)
    if base is None and type(owner).__module__.partition(".")[0] not in ("numpy", "array"):
        raise TypeError(f"a {type(owner).__name__} has no elements that can be set")
    if base is dict and not dict.__contains__(owner, key):
        raise KeyError(key)
    setting: Any = base or type(owner)
    if base is not dict:
        setting.__getitem__(owner, key)
    setting.__setitem__(owner, key, value)


def _set_field(owner: Any, name: str, value: Any) -> None:
    """Sets a field that is there, past what the class may do of its own. Raises AttributeError."""
    inherited = next((vars(base)[name] for base in type(owner).__mro__ if name in vars(base)), None)
    if not isinstance(inherited, MemberDescriptorType) and name not in getattr(owner, "__dict__", ()):
        raise AttributeError(f"it has no field of its own called {name}")
    (type if isinstance(owner, type) else object).__setattr__(owner, name, value)
