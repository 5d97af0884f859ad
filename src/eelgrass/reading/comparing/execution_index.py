"""What makes a visit of a statement the same visit in another run: its statement, the passes of the loops that it is
in, and where its frame was called from. (Execution indexing: Xin, Sumner and Zhang, Efficient program execution
indexing, 2008; their index is a path in a tree, ours a number that is mixed from the same path.)"""

from __future__ import annotations

from functools import cached_property

import numpy as np
import numpy.typing as npt

from eelgrass.reading.comparing.visited import Visited
from eelgrass.trace.columns import Ints
from eelgrass.trace.program import EXPRESSION, Program

Numbers = npt.NDArray[np.uint64]

_LOOPS = ("for", "asyncfor", "while")
_ODD = np.uint64(0x9E3779B97F4A7C15)
_MASK = (1 << 64) - 1


class Indexes:
    """The indexes of the kept visits of a run; `functions` has the number that a function has in both runs. `loops` are
    the passes of its loops, which may be counted otherwise where that fits another run better."""

    def __init__(self, run: Visited, functions: dict[int, int]) -> None:
        self.run = run
        self._functions = functions
        steps = run.trace.steps
        self.frames = steps.frame[run.steps]
        order = np.argsort(self.frames, kind="stable")
        statements = steps.statement[run.steps][order]
        self._order = order
        self._own = _mixed(run.number_of[statements].astype(np.uint64) + np.uint64(1))
        self.loops = _loops(run, self.frames[order], statements, order)

    def numbers(self) -> Numbers:
        """The index of each kept visit."""
        within, frames = self._told_apart
        return _mixed(within ^ frames[self.frames])

    def instances(self, loop: Passes) -> Numbers:
        """For each header of a loop, what its instance is the same by in both runs: the index without its pass."""
        within, frames = self._told_apart
        headers = loop.visits[loop.headers]
        return _mixed((within[headers] - loop.terms()[loop.headers]) ^ frames[self.frames[headers]])

    def recount(self) -> None:
        """Passes of a loop are counted otherwise now."""
        self.__dict__.pop("_told_apart", None)

    @cached_property
    def _told_apart(self) -> tuple[Numbers, Numbers]:
        """(what tells the visits of one frame apart, by visit; what tells frames apart, by frame)."""
        within = np.empty(len(self._order), np.uint64)
        within[self._order] = self._own
        for loop in self.loops:
            within[loop.visits] += loop.terms()
        return within, _frames(self.run, within, self._functions)


class Passes:
    """The passes of one loop of the program: its `number` in both runs, the places of the kept `visits` that are in it
    or are its header, in the order of frames and time, the pass `of` each, the place among these of each header, and
    the instance that each header belongs to; `around`: the numbers of the loops that it is in."""

    def __init__(
        self, number: int, around: frozenset[int], visits: Ints, of: Ints, headers: Ints, instances: Ints
    ) -> None:
        self.number, self.around = number, around
        self.visits, self.of, self.headers, self.instances = visits, of, headers, instances

    def terms(self) -> Numbers:
        """What the passes add to the indexes of their visits."""
        return _mixed(self.of.astype(np.uint64) + np.uint64((self.number + 1) << 32))


def _mixed(numbers: Numbers) -> Numbers:
    """Numbers far from each other for numbers near each other (Steele, Lea and Flood, Fast splittable pseudorandom
    number generators, 2014)."""
    mixed: Numbers = numbers * _ODD
    mixed = (mixed ^ (mixed >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    return mixed ^ (mixed >> np.uint64(29))


def _loops(run: Visited, frames: Ints, statements: Ints, visits: Ints) -> list[Passes]:
    """The loops of a run, outer ones first; rows are in the order of frames and time."""
    program = run.trace.program
    found = []
    function_of = np.array([its.function for its in program.statements], np.int64)
    around = _loops_around(program)
    loops = sorted({loop for its in around for loop in its})
    for function in sorted({int(function_of[loop]) for loop in loops}):
        rows = np.flatnonzero(function_of[statements] == function)
        begins = np.diff(frames[rows], prepend=-1) != 0
        its = statements[rows]
        for loop in loops:
            if function_of[loop] == function and run.number_of[loop] >= 0:
                outer = around[loop][-2:-1]
                anew = begins | (its == outer[0]) if outer else begins
                inside = np.array([loop in chain for chain in around])[its]
                headers = np.flatnonzero(its[inside] == loop)
                passes, instances = _passes(its, loop, anew)[inside], np.cumsum(anew)[inside][headers]
                numbers = frozenset(run.number_of[around[loop]].tolist())
                number = int(run.number_of[loop])
                found.append(Passes(number, numbers, visits[rows[inside]], passes, headers, instances))
    return found


def _passes(statements: Ints, loop: int, begins: npt.NDArray[np.bool_]) -> Ints:
    """How often the header of a loop has been visited since its frame, or a pass of the loop around it, began."""
    is_header = statements == loop
    counted = np.cumsum(is_header)
    since = np.maximum.accumulate(np.where(begins, np.arange(len(statements)), 0))
    passes: Ints = counted - counted[since] + is_header[since]
    return passes


def _loops_around(program: Program) -> list[list[int]]:
    """By statement: the loops that it is in, or the header of, from the outermost in."""
    found: list[list[int]] = []
    for number, its in enumerate(program.statements):
        of_expression = its.arm == EXPRESSION
        around = [] if of_expression or its.parent < 0 else found[its.parent]
        if around and around[-1] == its.parent and its.arm != 0:  # the `else` of a loop is not in it
            around = around[:-1]
        goes_round = its.kind in _LOOPS or (of_expression and its.kind != "lambda")
        found.append([*around, number] if goes_round else around)
    return found


def _frames(run: Visited, within: Numbers, functions: dict[int, int]) -> Numbers:
    """By frame: what tells it apart, by its function, the visit that called it and how many this called before."""
    trace, its = run.trace, run.trace.frames
    at = run.visit_at(its.caller, its.call_step)
    place = np.where(at >= 0, within[at], 0) if len(within) else np.zeros(len(its), np.uint64)
    found: list[int] = []
    seen: dict[int, int] = {}
    columns = its.caller.tolist(), its.function.tolist(), its.thread.tolist(), place.tolist()
    for caller, function, thread, called in zip(*columns, strict=True):
        above = found[caller] if caller >= 0 else thread
        key = hash((above, called, functions.get(function, -1)))
        seen[key] = seen.get(key, 0) + 1
        found.append(hash((key, seen[key])) & _MASK)
    return np.array(found, np.uint64) if len(trace.frames) else np.zeros(0, np.uint64)
