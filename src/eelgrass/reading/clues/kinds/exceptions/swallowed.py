"""A handler for everything that also takes what the program itself does wrong."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Raised, Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts

#: Exceptions that say that the text is wrong, rather than what it was given.
_OWN = frozenset(
    ("NameError", "UnboundLocalError", "AttributeError", "TypeError", "IndexError", "KeyError", "ImportError")
)


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each exception that a bare `except` or one for `Exception` caught: the handler does not look at it."""
    for path, visit in facts.raised:
        if not path.is_caught or path.type in ("StopIteration", "EOFError", "KeyboardInterrupt"):
            continue
        last = path.stations[-1]
        handler = facts.wide_handler(path)
        site = facts.site_at(visit)
        if handler is None or site is None or _looks(handler):
            continue
        is_own = path.type in _OWN
        if not is_own and not _is_silent(handler):
            continue
        yield Sighting(
            site.number,
            0.85 if is_own else 0.65,
            {"type": path.type, "message": path.message, "at": facts.line(visit), "handler": handler.lineno},
            (
                Evidence(visit, f"{path.type}: {path.message}", (Ran(site.number, visit),)),
                Evidence(last.step, "It is caught, and nothing is said of it.", (Raised(last.step),)),
            ),
        )


def _looks(handler: ast.ExceptHandler) -> bool:
    """Whether a handler does something with the exception, or raises one."""
    for its in (part for statement in handler.body for part in ast.walk(statement)):
        if isinstance(its, ast.Raise) or (
            isinstance(its, ast.Name) and its.id in (handler.name, "traceback", "sys", "logging")
        ):
            return True
    return False


def _is_silent(handler: ast.ExceptHandler) -> bool:
    return all(isinstance(its, (ast.Pass, ast.Continue)) for its in handler.body)


KIND = Kind(
    "swallowed",
    "An error that nobody hears of",
    "Line {line} raised {type} ({message}); the handler at line {handler} takes every exception and does not look at "
    "which. Is this one that it was meant for?",
    "a handler for all exceptions caught one and did not look at it",
    "strong where the exception says that the text is wrong; middling where the handler says nothing at all",
    """\
grams = ["120", "95"]
total = 0
for text in grams:
    try:
        total += text #!
    except:
        print("not a number:", text)
print(total)
""",
    """\
grams = ["120", "ninety"]
total = 0
for text in grams:
    try:
        total += int(text)
    except ValueError:
        print("not a number:", text)
print(total)
""",
    find,
)
