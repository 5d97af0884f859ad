"""Where the program's text reads a name, an element or a field.

A recording keeps what was written, not what was read. But the text says which names a statement looks at, and working
its line out again says which elements and fields, and what was left out by `and`, `or` and the like.
"""

from __future__ import annotations

import ast

import numpy as np

from eelgrass.parsing import parsed_expression
from eelgrass.reading.expressions.source_tree import worked_out
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.insides import Spot
from eelgrass.reading.state.name_lookup import slots_of
from eelgrass.trace.columns import Ints

#: So many visits are worked out, at most.
MOST_VISITS = 20_000
_TOLD_EVERY = 200
_BRANCHING = (ast.BoolOp, ast.IfExp, ast.Compare, ast.Lambda)


def steps_reading(
    recording: Recording, spots: list[Spot], path: str, progress: Progress | None = None
) -> tuple[Ints, bool]:
    """(the steps whose statements read one of some spots, in order; whether all were looked at). What a comprehension
    reads in its own frame is not told."""
    progress = progress or Progress()
    certain, doubtful = _candidates(recording, spots, parsed_expression(path.strip()))
    found = [certain]
    wanted = frozenset(spots)
    for count, visit in enumerate(doubtful[:MOST_VISITS].tolist()):
        if count % _TOLD_EVERY == 0 and not progress.goes_on(count / min(len(doubtful), MOST_VISITS)):
            return np.zeros(0, np.int64), False
        if not wanted.isdisjoint(recording.worked_lines.spots_read(visit)):
            found.append(np.array([visit]))
    return np.unique(np.concatenate(found)).astype(np.int64), len(doubtful) <= MOST_VISITS


def _candidates(recording: Recording, spots: list[Spot], path: ast.expr) -> tuple[Ints, Ints]:
    """(visits that certainly read, those that have to be worked out): where the text has what the path ends with."""
    certain, doubtful = [np.zeros(0, np.int64)], [np.zeros(0, np.int64)]
    for number in range(len(recording.trace.program.statements)):
        node = recording.worked_lines.syntax.statement(number)
        read = [part for its in worked_out(node) for part in ast.walk(its)] if node is not None else []
        if not any(_is_like(part, path) for part in read):
            continue
        visits = recording.visits.of_statement(number)
        if isinstance(path, ast.Name):
            frames = recording.trace.steps.frame[visits]
            visits = visits[np.isin(slots_of(recording.trace, frames, path.id), spots)] if len(visits) else visits
        is_plain = isinstance(path, ast.Name) and not isinstance(node, (ast.For, ast.AsyncFor))
        into = certain if is_plain and not any(isinstance(part, _BRANCHING) for part in read) else doubtful
        into.append(visits)
    return np.concatenate(certain), np.sort(np.concatenate(doubtful))


def _is_like(part: ast.AST, path: ast.expr) -> bool:
    if isinstance(path, ast.Name):
        return isinstance(part, ast.Name) and part.id == path.id
    if isinstance(path, ast.Attribute):
        return isinstance(part, ast.Attribute) and part.attr == path.attr
    return isinstance(part, ast.Subscript)
