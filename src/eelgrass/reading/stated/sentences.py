"""Sentences about a value as expressions: what is understood is a short list of forms, and nothing is guessed."""

from __future__ import annotations

import ast
import re
from collections.abc import Callable, Collection

from eelgrass.parsing import parsed_expression

_NAME = r"`?(?P<name>[A-Za-z_][\w.]*)`?"
_NUMBER = r"(?P<{0}>-?\d+(?:\.\d+)?|none|nothing|zero)"
_BE = r"(?:is|are|stays?|remains?|must be|should be|has to be|will be|can be|lies|:|=)(?: always| never more than)?"
_TYPES = {
    **{"list": "list", "dictionary": "dict", "dict": "dict", "set": "set", "tuple": "tuple"},
    **{"text": "str", "string": "str", "str": "str", "word": "str", "name": "str"},
    **{"number": "(int, float)", "whole number": "int", "integer": "int", "int": "int", "float": "float"},
    **{"bool": "bool", "boolean": "bool", "truth value": "bool"},
}
_PLURALS = {
    **{"texts": "str", "strings": "str", "words": "str", "names": "str", "lines": "str"},
    **{"numbers": "(int, float)", "whole numbers": "int", "integers": "int", "ints": "int", "floats": "float"},
    **{"lists": "list", "tuples": "tuple", "dictionaries": "dict"},
}
_TYPE = "|".join(sorted(_TYPES, key=len, reverse=True))
_PLURAL = "|".join(sorted(_PLURALS, key=len, reverse=True))
_A_TYPE = rf"(?:a |an )?(?P<type>{_TYPE})(?: of (?P<of>{_PLURAL}))?"


def _number(text: str) -> str:
    return "0" if text in ("none", "nothing", "zero") else text


def _between(name: str, its: re.Match[str]) -> str:
    return f"{_number(its['low'])} <= {name} <= {_number(its['high'])}"


def _is_of(name: str, its: re.Match[str]) -> str:
    return type_claim(name, _TYPES[its["type"]], _PLURALS.get(its["of"] or ""))


def type_claim(name: str, type_: str, of: str | None = None) -> str:
    """That something is of a type and, of a container, its elements of another."""
    told = f"isinstance({name}, {type_})"
    return f"{told} and all(isinstance(its, {of}) for its in {name})" if of else told


_Make = Callable[[str, "re.Match[str]"], str]
#: What is said of a name, and the expression that it becomes.
_FORMS: tuple[tuple[str, _Make], ...] = (
    (rf"{_BE} between {_NUMBER.format('low')} and {_NUMBER.format('high')}", _between),
    (rf"{_BE} from {_NUMBER.format('low')} to {_NUMBER.format('high')}", _between),
    (
        rf"(?:never|does not|must not|cannot|should not) (?:falls?|drops?|goes|go|gets?|sinks?|is|be) (?:below|under) "
        rf"{_NUMBER.format('low')}",
        lambda name, its: f"{name} >= {_number(its['low'])}",
    ),
    (
        rf"(?:never|does not|must not|cannot|should not) "
        rf"(?:rises?|exceeds?|goes|go|gets?|is|be)(?: above| over| more than| beyond)? {_NUMBER.format('high')}",
        lambda name, its: f"{name} <= {_number(its['high'])}",
    ),
    (
        rf"{_BE} (?:never (?:below|less than)|at least|not below) {_NUMBER.format('low')}",
        lambda n, m: f"{n} >= {_number(m['low'])}",
    ),
    (
        rf"{_BE} (?:never (?:above|more than)|at most|not above) {_NUMBER.format('high')}",
        lambda n, m: f"{n} <= {_number(m['high'])}",
    ),
    (rf"{_BE} (?:greater|more|larger|higher) than {_NUMBER.format('low')}", lambda n, m: f"{n} > {_number(m['low'])}"),
    (rf"{_BE} (?:less|smaller|lower) than {_NUMBER.format('high')}", lambda n, m: f"{n} < {_number(m['high'])}"),
    (rf"(?:{_BE} never|(?:is|are) not|never is|never gets) negative", lambda n, _: f"{n} >= 0"),
    (rf"{_BE} positive", lambda n, _: f"{n} > 0"),
    (rf"{_BE} negative", lambda n, _: f"{n} < 0"),
    (rf"{_BE} even", lambda n, _: f"{n} % 2 == 0"),
    (rf"{_BE} odd", lambda n, _: f"{n} % 2 == 1"),
    (rf"{_BE} (?:sorted|in order|ordered|ascending)", lambda n, _: f"{n} == sorted({n})"),
    (rf"(?:{_BE} (?:never|not)|never (?:is|gets|becomes)) empty", lambda n, _: f"len({n}) > 0"),
    (rf"(?:{_BE} (?:never|not)|never (?:is|becomes)) None", lambda n, _: f"{n} is not None"),
    (
        r"has (?:always )?(?P<count>\d+) (?:elements|entries|letters|characters|items)",
        lambda n, m: f"len({n}) == {m['count']}",
    ),
    (rf"{_BE} {_A_TYPE}", _is_of),
    (
        rf"(?:holds|contains) (?P<of>{_PLURAL})",
        lambda n, m: f"all(isinstance(its, {_PLURALS[m['of']]}) for its in {n})",
    ),
)
_UNDERSTOOD = [(re.compile(rf"(?:the )?{_NAME}(?: is)? ?{form}$", re.I), make) for form, make in _FORMS]
_GIVES = re.compile(rf"(?:it )?(?:returns?|gives?|hands? back)(?: back)? {_A_TYPE}(?: |$|,|:)", re.I)
_LABEL = re.compile(r"^(?:always|invariant|claim|note|assert|assume|precondition|postcondition)\b:?\s*", re.I)


def claim_in(sentence: str, names: Collection[str]) -> str:
    """The expression that a sentence about one of some names says is always true; '' where it is not understood."""
    said = _LABEL.sub("", sentence).strip()
    for form, make in _UNDERSTOOD:
        its = form.match(said)
        if its is not None and its["name"].split(".")[0] in names:
            return make(its["name"], its)
    return _written_out(said, names)


def given_type(sentence: str) -> tuple[str, str | None] | None:
    """(the type, that of the elements) that a sentence says a function gives back; None where it says none."""
    its = _GIVES.match(sentence)
    return None if its is None else (_TYPES[its["type"].lower()], _PLURALS.get((its["of"] or "").lower()))


def _written_out(said: str, names: Collection[str]) -> str:
    """A comparison that stands in a sentence as Python writes it, of known names alone."""
    try:
        tree = parsed_expression(said)
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return ""
    if not isinstance(tree, (ast.Compare, ast.BoolOp)):
        return ""
    used = {its.id for its in ast.walk(tree) if isinstance(its, ast.Name)} - {
        "len",
        "sum",
        "max",
        "min",
        "sorted",
        "abs",
    }
    return said if used and used <= set(names) else ""
