"""Calls of the program's own functions: what they gave, and what was made of it."""

from __future__ import annotations

import ast
from dataclasses import dataclass

from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import called
from eelgrass.reading.clues.program_text import Site
from eelgrass.trace.model import FrameEnd
from eelgrass.trace.values import NOT_SET

#: So many visits of a statement with a call are looked at.
_VISITS = 12


@dataclass(frozen=True)
class OwnCall:
    """A call in the text at a visit, the frame and the function that it called, whether that `returned`, and whether it
    gave None."""

    site: Site
    call: ast.Call
    visit: int
    frame: int
    function: int
    returned: bool
    gave_nothing: bool


def own_calls(facts: Facts) -> list[OwnCall]:
    """Every call of an own function in the text, at some visits; none of generators, which begin later."""
    return facts.once(_of_functions)


def makings(facts: Facts) -> list[OwnCall]:
    """Every call of an own class in the text, at some visits, with the frame that set the object up."""
    return _calls(facts, "class")


def returned_calls(facts: Facts) -> list[OwnCall]:
    """Those of them that returned."""
    return [its for its in own_calls(facts) if its.returned]


def _of_functions(facts: Facts) -> list[OwnCall]:
    return _calls(facts, "function")


def _calls(facts: Facts, kind: str) -> list[OwnCall]:
    frames, found = facts.trace.frames, []
    own = {its.name for its in facts.trace.program.functions if its.kind == kind}
    for site, call in facts.all(ast.Call):
        for visit in facts.visits(site, _VISITS) if called(call) in own else ():
            made = facts.gave(visit).frame_called(call)
            if made is None or facts.trace.function_of_frame(made.frame).waits:
                continue
            value = int(frames.value[made.frame])
            returned = bool(frames.end[made.frame] == FrameEnd.RETURNED)
            nothing = returned and value != NOT_SET and facts.trace.values.get(value) is None
            found.append(OwnCall(site, call, visit, made.frame, int(frames.function[made.frame]), returned, nothing))
    return found


def returns_in(facts: Facts, function: int) -> list[Site]:
    """The `return` statements of a function that give a value other than None."""
    return [
        site
        for site, node in facts.all(ast.Return)
        if site.function == function and node.value is not None
        if not (isinstance(node.value, ast.Constant) and node.value.value is None)
    ]


def is_used(its: OwnCall) -> bool:
    """Whether a statement makes anything of what a call in it gave."""
    return not (isinstance(its.site.node, ast.Expr) and its.site.node.value is its.call)
