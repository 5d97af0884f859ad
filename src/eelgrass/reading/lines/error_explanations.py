"""What an exception means, in plain words with the program's own names and values."""

from __future__ import annotations

import re
import shlex
from collections.abc import Mapping
from typing import Any

#: By the exception's type: a pattern of its message, and what it means.
_MEANINGS: tuple[tuple[str, str, str], ...] = (
    ("KeyError", r"(.*)", "The dictionary has no key {0}."),
    ("IndexError", r"list index out of range", "The list has no element with this index; the first one has index 0."),
    ("IndexError", r"(\w+) index out of range", "The {0} has no element with this index; the first one has index 0."),
    ("IndexError", r"pop from empty list", "Nothing can be taken out: the list is empty."),
    ("ZeroDivisionError", r".*", "Something is divided by zero here."),
    ("NameError", r"name '(\w+)' is not defined.*", "Nothing is called “{0}” here: is it misspelt, or set only later?"),
    (
        "UnboundLocalError",
        r".*variable '(\w+)'.*",
        "“{0}” is set somewhere in this function, so it is the function's own name; here it has no value yet.",
    ),
    ("AttributeError", r"'(\w+)' object has no attribute '(\w+)'", "{0} has no “{1}”."),
    (
        "TypeError",
        r"unsupported operand type\(s\) for (\S+): '(\w+)' and '(\w+)'",
        "“{0}” does not work between {1} and {2}.",
    ),
    (
        "TypeError",
        r"can only concatenate str \(not \"(\w+)\"\) to str",
        "+ cannot join a text and {0}.",
    ),
    ("TypeError", r"'(\w+)' object is not (\w+)", "{0} is not {1}."),
    ("TypeError", r"(.*) missing (\d+) required .*: (.*)", "{0} is called without {2}."),
    ("TypeError", r"(.*) takes (.*) positional arguments? but (\d+) .*", "{0} takes {1}, and is given {2}."),
    ("ValueError", r"invalid literal for int\(\) with base 10: (.*)", "{0} is no whole number."),
    ("ValueError", r"could not convert string to float: (.*)", "{0} is no number."),
    ("ValueError", r"not enough values to unpack.*expected (\d+), got (\d+).*", "There are {1} values for {0} names."),
    ("ValueError", r"too many values to unpack.*expected (\d+).*", "There are more values than the {0} names."),
    ("ValueError", r"(.*) is not in list", "The list does not contain {0}."),
    ("RecursionError", r".*", "The function calls itself again and again, and never comes to an end."),
    ("FileNotFoundError", r".*", "There is no such file."),
    ("EOFError", r".*", "The program asked for input when there was no more."),
    ("StopIteration", r".*", "There is no next element."),
    ("AssertionError", r".*", "A claim of the program does not hold."),
)

#: What types are called, where a message speaks of one.
_TYPES = {
    **{"str": "a text", "int": "a whole number", "float": "a float", "bool": "a truth value", "list": "a list"},
    **{"tuple": "a tuple", "dict": "a dictionary", "set": "a set", "NoneType": "nothing (None)", "string": "text"},
    **{"builtin_function_or_method": "a function", "function": "a function", "module": "a module"},
}


def explained(type_: str, message: str, case: Mapping[str, Any] | None = None) -> str:
    """What an exception of a type with a message means; '' where that says more than we could. `case` is how the run
    was made, which says where modules were looked for."""
    if type_ == "ModuleNotFoundError":
        return _missing_module(message, case or {})
    for name, pattern, sentence in _MEANINGS:
        match = re.fullmatch(pattern, message, re.DOTALL) if name == type_ else None
        if match:
            told = sentence.format(*(_TYPES.get(its, its) for its in match.groups()))
            return told[0].upper() + told[1:]
    return ""


def _missing_module(message: str, case: Mapping[str, Any]) -> str:
    match = re.match(r"No module named '([\w.]+)'", message)
    if match is None:
        return ""
    name, python = match[1].partition(".")[0], case.get("python")
    file = python.get("file") if isinstance(python, dict) else None
    if not isinstance(file, str) or name != match[1]:
        return f"There is no module called “{match[1]}” where Python looks for it."
    how = f"{shlex.quote(file)} -m pip install {name}"
    return f"The program's folder has no {name}.py, and {file} has no package “{name}”. To install one: “{how}”."
