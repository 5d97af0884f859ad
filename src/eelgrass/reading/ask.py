"""Questions: any expression, at one moment or over the whole run (needs A1, A2, F6).

A question is asked of frames. Over the run it is answered where its answer can have changed: when one of the names in
it, or something inside of what these hold, was written. So it costs as much as has changed, not as much as has run.
"""

from __future__ import annotations

import ast
import heapq
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from eelgrass.reading.evaluate import Evaluator
from eelgrass.reading.history import steps_written
from eelgrass.reading.lifting import CannotAnswerError, Thing, type_word
from eelgrass.reading.recording import Recording
from eelgrass.trace.columns import Ints

#: Over the run no more moments than this are looked at.
MOST_MOMENTS = 50_000
_MOST_CHARACTERS = 2000


class QuestionError(Exception):
    """A question that cannot be understood: a sentence, and the column (from 0) that it is about."""

    def __init__(self, sentence: str, column: int) -> None:
        super().__init__(sentence)
        self.column = column


@dataclass(frozen=True)
class Question:
    """An expression, with its text and the names in it that are looked up."""

    text: str
    tree: ast.expr
    names: tuple[str, ...]


@dataclass(frozen=True)
class Answer:
    """What an expression gives at a step in a frame. `known` is false where the recording does not say; then, and where
    the expression raises an exception, `text` is a sentence and `type_word` ''. `is_true` only for values."""

    step: int
    frame: int
    text: str
    type_word: str
    known: bool
    is_true: bool


def question(text: str) -> Question:
    """Reads a question. Raises QuestionError, saying in plain words what is wrong with it."""
    try:
        tree = ast.parse(text.strip(), mode="eval").body
    except SyntaxError as error:
        if _is_statement(text):
            raise QuestionError("A question is an expression; this would do something.", 0) from error
        column = max((error.offset or 1) - 1, 0)
        raise QuestionError(f"Python does not understand this question: {error.msg}.", column) from error
    except (ValueError, RecursionError, MemoryError) as error:
        raise QuestionError("This question is too long or too deeply nested.", 0) from error
    bound = {part.id for part in ast.walk(tree) if isinstance(part, ast.Name) and isinstance(part.ctx, ast.Store)}
    names = dict.fromkeys(part.id for part in ast.walk(tree) if isinstance(part, ast.Name) and part.id not in bound)
    return Question(text.strip(), tree, tuple(names))


def _is_statement(text: str) -> bool:
    try:
        return bool(ast.parse(text).body)
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return False


def at(recording: Recording, asked: Question, frame: int, step: int) -> Answer:
    """The answer just before a step, as seen from a frame."""
    evaluator = Evaluator(recording.trace, frame, step)
    try:
        value = evaluator.value(asked.tree)
        text, word = _text(value), type_word(value)
        return Answer(step, frame, text, word, True, not isinstance(value, Thing) and bool(value))
    except CannotAnswerError as error:
        return Answer(step, frame, str(error), "", False, False)
    except NameError as error:
        return Answer(step, frame, f"Out of scope: {error}.", "", False, False)
    except RecursionError:
        return Answer(step, frame, "This question is too deeply nested.", "", False, False)
    except Exception as error:  # what the expression raises, as it would in the program
        return Answer(step, frame, f"raises {type(error).__name__}: {error}", "", True, False)


def over(recording: Recording, asked: Question) -> Iterator[Answer]:
    """Every change of the answer over the run, in order of time. Where a name belongs to a function, the question is
    asked in each of its frames, else in the module. Ends after MOST_MOMENTS moments."""
    told = [_in_frame(recording, asked, frame) for frame in _frames(recording, asked)]
    yield from heapq.merge(*told, key=lambda answer: (answer.step, answer.frame))


def _in_frame(recording: Recording, asked: Question, frame: int) -> Iterator[Answer]:
    last: tuple[str, str] | None = None
    for step in _moments(recording, asked, frame).tolist():
        answer = at(recording, asked, frame, step)
        if not answer.known and last is None:
            continue  # not yet in scope
        if (answer.text, answer.type_word) != last:
            last = answer.text, answer.type_word
            yield answer


def _frames(recording: Recording, asked: Question) -> list[int]:
    """The frames that a question is asked in over the run."""
    functions = recording.trace.program.functions
    own = [
        number
        for number, function in enumerate(functions)
        if function.kind != "module" and not set(asked.names).isdisjoint(function.local)
    ]
    wanted = own or [number for number, function in enumerate(functions) if function.kind == "module"][:1]
    frames = np.flatnonzero(np.isin(recording.trace.frames.function, wanted))
    return [int(frame) for frame in frames[:MOST_MOMENTS]]


def _moments(recording: Recording, asked: Question, frame: int) -> Ints:
    """The steps of a frame's life before which the answer can be another than before."""
    trace = recording.trace
    first, last = int(trace.frames.first[frame]), int(trace.frames.last[frame])
    end = last if last >= 0 else len(trace.steps) - 1
    key_of = trace.slots.key
    holders = {frame, *_outer(recording, frame)}
    slots = [
        slot
        for holder in holders
        for slot in trace.histories.of_frame(holder).tolist()
        if trace.values.get(int(key_of[slot])) in asked.names
    ]
    written = steps_written(trace, slots, first, end, follow=lambda _number: True)
    return np.array(sorted({first + 1, *(step + 1 for step in written)})[:MOST_MOMENTS], np.int64)


def _outer(recording: Recording, frame: int) -> list[int]:
    """The frames whose names a frame can see: those of enclosing functions, and its module."""
    trace = recording.trace
    functions = trace.program.functions
    found, number = [], int(trace.frames.function[frame])
    while (number := functions[number].parent) >= 0:
        if functions[number].kind == "module":
            found += np.flatnonzero(trace.frames.function == number).tolist()[:1]
        else:
            found.append(trace.holder(frame, number))
    return [frame for frame in found if frame >= 0]


def _text(value: Any) -> str:
    text = repr(value)
    return text if len(text) <= _MOST_CHARACTERS else text[: _MOST_CHARACTERS - 1] + "…"
