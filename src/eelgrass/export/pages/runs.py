"""One run for a page: each moment of a stretch of it, and what is shown there."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from eelgrass.export.pages.content import (
    Interned,
    PageBody,
    PageLayer,
    PageNote,
    PageOutput,
    PageQuestion,
    PageRow,
    PageRun,
    PageStop,
)
from eelgrass.export.pages.layers import opened_layers, page_row
from eelgrass.export.pages.lines import page_lines
from eelgrass.lessons.answering.prediction_points import prediction_at
from eelgrass.lessons.answering.predictions import Prediction, outcome_words
from eelgrass.reading.moves import MOVES
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.function_words import function_words
from eelgrass.reading.state.output import number_past, png_of
from eelgrass.trace.columns import Ints, find
from eelgrass.trace.model import StepKind, Texts

#: The moves of a page: those of the window by the same keys.
PAGE_MOVES = ("next_line", "previous_line", "into", "out", "call_of", "next_pass", "previous_pass")
#: So many moments a page holds, and about so many characters of what is in them.
MOST_MOMENTS, MOST_CHARACTERS = 3_000, 3_000_000
_MOST_OUTPUT, _MOST_PICTURES, _MOST_BODIES, _MOST_QUESTIONS = 200_000, 400_000, 2_000, 40
_OUTPUT_KINDS = {Texts.OUTPUT: "output", Texts.ERRORS: "errors", Texts.TYPED: "typed", Texts.PICTURE: "picture"}
_STANDS = {StepKind.LINE: 0, StepKind.RETURN: 1, StepKind.RAISE: 2}


@dataclass(frozen=True)
class Chosen:
    """What of a run is wanted: the steps from `first` to `last` (None: its end), a title, and by step the stops of a
    route as (number, what to say in HTML) and what is to be said first."""

    title: str = ""
    first: int = 0
    last: int | None = None
    stops: Mapping[int, Sequence[tuple[int, str]]] = field(default_factory=dict)
    questions: Mapping[int, Prediction] = field(default_factory=dict)


def worth_asking(recording: Recording, first: int = 0, last: int | None = None) -> dict[int, Prediction]:
    """What is worth being said first in a stretch of a run, by step; the first so many questions."""
    stops = recording.stepping.stops
    end = len(recording.trace.steps) - 1 if last is None else last
    found = dict[int, Prediction]()
    for step in stops[find(stops, first) : find(stops, end + 1)][:MOST_MOMENTS].tolist():
        prediction = prediction_at(recording, step)
        if prediction is not None:
            found[step] = prediction
        if len(found) == _MOST_QUESTIONS:
            break
    return found


def page_run(recording: Recording, chosen: Chosen) -> PageRun:
    """A run, from a stretch of its steps. A part that is too long for a page is cut at its end, which `cut` says."""
    end = len(recording.trace.steps) - 1 if chosen.last is None else chosen.last
    stops = recording.stepping.stops
    wanted = stops[find(stops, chosen.first) : find(stops, end + 1)]
    made = _Moments(recording, wanted[:MOST_MOMENTS])
    moments = made.moments
    notes = Interned[PageNote]()
    text = [page_lines(recording, module, moments, notes) for module in range(len(recording.trace.program.modules))]
    return PageRun(
        title=chosen.title,
        cut=_cut(recording, chosen, wanted, moments),
        steps=moments.tolist(),
        files=[recording.module_at(step) for step in moments.tolist()],
        lines=[recording.trace.line_of(step) for step in moments.tolist()],
        functions=made.functions,
        stands=[_STANDS.get(StepKind(int(kind)), 0) for kind in recording.trace.steps.kind[moments].tolist()],
        moves={name: _led_by(recording, MOVES[name], moments) for name in PAGE_MOVES},
        stacks=made.stacks,
        layers=made.layers.rows,
        rows=made.rows.rows,
        names=made.names.rows,
        notes=notes.rows,
        text=text,
        output=_output(recording, moments),
        bodies=_bodies(recording, moments),
        raises=sorted({find(moments, step) for step in _within(recording.timeline.exceptions(), moments)}),
        stops=[
            PageStop(find(moments, step), number, say)
            for step in _within(sorted(chosen.stops), moments)
            for number, say in chosen.stops[step]
        ],
        questions=[
            PageQuestion(find(moments, step), its.kind, its.ask, its.expected, outcome_words(its))
            for step in _within(sorted(chosen.questions), moments)
            for its in (chosen.questions[step],)
        ],
    )


class _Moments:
    """The stacks of the moments, as many as a page has room for."""

    def __init__(self, recording: Recording, wanted: Ints) -> None:
        self._recording = recording
        self.layers, self.rows, self.names = Interned[PageLayer](), Interned[PageRow](), Interned[str]()
        self.stacks, self.functions = list[list[int]](), list[int]()
        self._characters = 0
        for step in wanted.tolist():
            if self._characters > MOST_CHARACTERS:
                break
            self._add(step)
        self.moments: Ints = wanted[: len(self.stacks)]

    def _add(self, step: int) -> None:
        stack = list[int]()
        for its in opened_layers(self._recording, step):
            known = len(self.rows.rows)
            rows = tuple(self.rows.number(page_row(row)) for row in its.rows)
            layer = PageLayer(its.title, its.depth, its.active, rows)
            self._characters += sum(len(row.text) + len(row.name) + 20 for row in self.rows.rows[known:])
            stack += [self.layers.number(layer), self.names.number(its.detail)]
        self.stacks.append(stack)
        function = self._recording.trace.function_of_frame(self._recording.stepping.frame_of(step))
        self.functions.append(self.names.number(function_words(function.name)))


def _within(steps: Ints | Sequence[int], moments: Ints) -> list[int]:
    """Of some steps, those that are moments."""
    return [int(step) for step in np.intersect1d(np.asarray(steps, np.int64), moments)]


def _led_by(recording: Recording, move: Callable[[Recording, int], int], moments: Ints) -> list[int]:
    """For each moment, how many moments further a move leads; 0 where it leads nowhere, or out of the page."""
    if not len(moments):
        return []
    led = np.array([move(recording, step) for step in moments.tolist()])
    there = np.searchsorted(moments, led)
    inside = (led >= moments[0]) & (led <= moments[-1])
    return [int(its) for its in np.where(inside, there - np.arange(len(moments)), 0)]


def _cut(recording: Recording, chosen: Chosen, wanted: Ints, moments: Ints) -> str:
    """What of the run is not on the page, in a sentence; '' when all is."""
    stops = recording.stepping.stops
    if len(moments) == len(stops) or not len(moments):
        return ""
    part = f"steps {int(moments[0]):,} to {int(moments[-1]):,} of {len(recording.trace.steps) - 1:,}"
    too_long = " More than that does not go on a page." if len(moments) < len(wanted) else ""
    return f"This page shows a part of the run: {part}.{too_long}"


def _output(recording: Recording, moments: Ints) -> list[PageOutput]:
    found, past, characters, pictures = list[PageOutput](), 0, 0, 0
    for moment, step in enumerate(moments.tolist()):
        now = number_past(recording.trace, recording.output, step)
        for piece in recording.output[past:now]:
            kind, text = _OUTPUT_KINDS[piece.channel], piece.text
            if kind == "picture":
                pictures += len(text)
                if not png_of(piece).startswith(b"\x89PNG") or pictures > _MOST_PICTURES:
                    kind, text = "output", "(a picture)\n"
            left = _MOST_OUTPUT - characters
            if kind != "picture":
                characters += len(text)
                text = text if len(text) <= left else text[: max(left, 0)] + "…" * (left > 0)
            if text:
                found.append(PageOutput(kind, text, moment))
        past = max(past, now)
    return found


def _bodies(recording: Recording, moments: Ints) -> list[PageBody]:
    """The calls that are on at any of the moments; of very many the longest."""
    if not len(moments):
        return []
    first, last = int(moments[0]), int(moments[-1])
    here = [its for its in recording.timeline.bodies(1) if its.last >= first and its.first <= last]
    if len(here) > _MOST_BODIES:
        least = sorted((its.last - its.first for its in here), reverse=True)[_MOST_BODIES]
        here = [its for its in here if its.last - its.first > least]
    starts = [find(moments, max(its.first, first)) for its in here]
    ends = [max(find(moments, its.last + 1) - 1, 0) for its in here]
    return [
        PageBody(its.name, its.depth, start, end, its.raised)
        for its, start, end in zip(here, starts, ends, strict=True)
    ]
