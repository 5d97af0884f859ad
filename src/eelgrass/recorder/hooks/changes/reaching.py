"""What a call reaches that no woven text does, found from what was called."""

from __future__ import annotations

from types import (
    BuiltinFunctionType,
    CodeType,
    FunctionType,
    MemberDescriptorType,
    MethodDescriptorType,
    MethodType,
    MethodWrapperType,
    ModuleType,
    WrapperDescriptorType,
)
from typing import Any

from eelgrass.recorder.contract import CHANGING, CHANGING_ONLY, HARMLESS, KNOWN_WAYS

_STATIC_FUNCTIONS = (MethodDescriptorType, WrapperDescriptorType)


def receiver_of(thing: Any) -> Any:
    """What a built-in method belongs to; anything else is what it is."""
    owner = thing.__self__ if type(thing) is BuiltinFunctionType else None
    return thing if owner is None or type(owner) is ModuleType else owner


def is_woven(code: CodeType, mark: Any) -> bool:
    """Whether code tells of itself: then the log's mark is among its constants."""
    return any(constant is mark or type(constant) is mark for constant in code.co_consts)


def reach(called: Any, mark: Any) -> tuple[Any, bool]:
    """(the object that a call may have changed because its method was called, or None; whether it may have changed
    what it was handed). Runs no code of the program: only exact types are asked."""
    kind = type(called)
    if kind is FunctionType:
        return None, _may_change(_module_of(called), called.__name__) and not is_woven(called.__code__, mark)
    if kind is MethodType:
        function = called.__func__
        if type(function) is FunctionType:
            changing = CHANGING_ONLY.get(_module_of(function))
            if is_woven(function.__code__, mark) or (changing is not None and function.__name__ not in changing):
                return None, False
        return called.__self__, True
    if kind is BuiltinFunctionType or kind is MethodWrapperType:
        owner = called.__self__
        if type(owner) is ModuleType:
            return None, called.__name__ in CHANGING or _may_change(_name_of(owner), called.__name__)
        if issubclass(type(owner), type):  # a method of a class, as `object.__new__`, which only makes something
            return None, called.__name__ != "__new__"
        return owner, kind is BuiltinFunctionType
    if kind in _STATIC_FUNCTIONS:
        return None, True
    if type.__getattribute__(kind, "__name__") == "partial":
        func = type.__getattribute__(kind, "__dict__").get("func")
        if type(func) is MemberDescriptorType:
            return reach(func.__get__(called), mark)[0], True
    return None, False


def known_way(called: Any) -> str:
    """The name of a function whose way of changing what it is handed is known; '' for any other."""
    owner = called.__self__ if type(called) is BuiltinFunctionType else None
    return str(called.__name__) if type(owner) is ModuleType and _name_of(owner) in KNOWN_WAYS else ""


def _may_change(root: str, function: str) -> bool:
    """Whether a function of a library, named by the first part of its modules' names, may change what it is handed."""
    return function in CHANGING_ONLY[root] if root in CHANGING_ONLY else root not in HARMLESS


def _module_of(function: FunctionType) -> str:
    name = dict.get(function.__globals__, "__name__")
    return name.partition(".")[0] if type(name) is str else ""


def _name_of(module: ModuleType) -> str:
    name = ModuleType.__getattribute__(module, "__dict__").get("__name__")
    return name.partition(".")[0].lstrip("_") if type(name) is str else ""
