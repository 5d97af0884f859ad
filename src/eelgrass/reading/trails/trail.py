"""A trail: from a question back through the moments that made its answer, each worked out when it is opened."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.errors import EelgrassError
from eelgrass.reading.endless_run import busiest_loop
from eelgrass.reading.expressions.expression import parse_expression
from eelgrass.reading.expressions.source_tree import decided_by
from eelgrass.reading.state.output import piece_with
from eelgrass.reading.trails.moments import Kind, Moment
from eelgrass.reading.trails.origins import Origins
from eelgrass.reading.trails.reads import Reads
from eelgrass.reading.trails.visits_of_writes import Write, visit_at
from eelgrass.trace.columns import find
from eelgrass.trace.histories import Part
from eelgrass.trace.model import StepKind
from eelgrass.trace.values import NOT_SET

#: So many links of functions that are left out are looked behind at once.
_MOST_LEFT_OUT = 300


class NoTrailError(EelgrassError):
    """Why there is no trail from somewhere, in a sentence."""


class Trail:
    """The links of one trail, numbered from 0 as they are found. The first ones answer the question. Those in functions
    of the names `without` are left out."""

    def __init__(self, origins: Origins, beginning: list[Moment], without: frozenset[str] = frozenset()) -> None:
        self.without = without
        self.recording = origins.recording
        self._origins = origins
        self.links: list[Moment] = []
        self._number_of: dict[Moment, int] = {}
        self._opened: dict[int, list[int]] = {}
        self.beginning = [self._number(its) for its in beginning]

    def opened(self, number: int) -> list[int]:
        """The numbers of the links that a link came from: data, then decisions, then what did not run."""
        if number not in self._opened:
            self._opened[number] = [self._number(its) for its in self._behind(self.links[number])]
        return self._opened[number]

    def narrowed(self, function: str) -> Trail:
        """The same question, with the links in a function left out: what they came from stands in their place."""
        return Trail(self._origins, [self.links[its] for its in self.beginning], self.without | {function})

    def _behind(self, moment: Moment) -> list[Moment]:
        found = dict.fromkeys(self._origins.of(moment))
        if not self.without:
            return list(found)
        kept: dict[Moment, None] = {}
        waiting = list(found)
        for its in waiting:  # which grows meanwhile
            if self._is_shown(its):
                kept[its] = None
            elif len(found) < _MOST_LEFT_OUT:
                further = [more for more in self._origins.of(its) if more not in found]
                found.update(dict.fromkeys(further))
                waiting += further
        return list(kept)

    def _is_shown(self, moment: Moment) -> bool:
        frame = self.recording.stepping.frame_of(moment.step)
        return self.recording.trace.function_of_frame(frame).name not in self.without

    def walk(self) -> Iterator[int]:
        """All links, breadth first, each opened when it is reached."""
        place = 0
        while place < len(self.links):
            self.opened(place)
            yield place
            place += 1

    def _number(self, moment: Moment) -> int:
        number = self._number_of.setdefault(moment, len(self.links))
        if number == len(self.links):
            self.links.append(moment)
        return number


def trail_of_expression(origins: Origins, expression: str, step: int, frame: int | None = None) -> Trail:
    """Where the value of an expression, as it is just before a step, came from; seen from the frame at that step, or
    from another. Raises NoTrailError, and ExpressionError for what is none."""
    node = parse_expression(expression).tree
    reads = Reads(origins.recording, step, frame)
    reads.read([node])
    data, missed = origins.of_reads(reads)
    found = [its for its in [*data, *missed] if its.kind != Kind.LITERAL]
    if not found:
        raise NoTrailError(f"“{expression}” reads nothing at this step that the program has written.")
    return Trail(origins, found)


def trail_of_output(origins: Origins, character: int) -> Trail:
    """Where a character of standard output came from, counted from 0. Raises NoTrailError."""
    piece = piece_with(origins.recording.output, character)
    if piece is None:
        raise NoTrailError("Nothing was printed there.")
    return trail_of_printed(origins, piece.step, piece.text)


def trail_of_printed(origins: Origins, step: int, text: str) -> Trail:
    """Where a text that was printed during a step came from. Raises NoTrailError."""
    visit = visit_at(origins.recording, step)
    if visit < 0:
        raise NoTrailError("No recorded statement printed this.")
    return Trail(origins, [_printed(visit, text, step)])


def _printed(visit: int, text: str, step: int) -> Moment:
    return Moment(Kind.PRINTED, visit, repr(text.rstrip("\n"))[1:-1], NOT_SET, step)


def trail_of_visit(origins: Origins, visit: int) -> Trail:
    """Where what the statement of a visit did came from: what it wrote, printed, handed back or decided. Raises
    NoTrailError where it did none of these."""
    recording, trace = origins.recording, origins.trace
    node = recording.worked_lines.syntax.at(visit)
    if (
        node is not None
        and hasattr(node, "body")
        and decided_by(node)
        and not isinstance(node, (ast.For, ast.AsyncFor))
    ):
        return Trail(origins, [origins.decision(visit)])
    found = [
        origins.of_write(slot, Write(visit, step))
        for step in recording.changes.own_steps(visit)
        for slot, value in trace.histories.writes_during(step)
        if value != NOT_SET and _is_own(origins, slot, visit)
    ]
    printed = recording.changes.printed(visit)
    if printed:
        found.append(_printed(visit, printed, visit))
    if isinstance(node, ast.Return):
        frame = recording.stepping.frame_of(visit)
        value = int(trace.frames.value[frame])
        found.append(Moment(Kind.GIVEN_BACK, visit, trace.function_of_frame(frame).name, value, visit + 1, frame))
    if not found:
        raise NoTrailError("This line has stored, printed and decided nothing here.")
    return Trail(origins, list(dict.fromkeys(found)))


def _is_own(origins: Origins, slot: int, visit: int) -> bool:
    """Whether a write is the visit's own: not that of a parameter of a frame that it called."""
    slots = origins.trace.slots
    return bool(slots.part[slot] != Part.NAME or slots.owner[slot] == origins.recording.stepping.frame_of(visit))


def trail_of_exception(origins: Origins, step: int = -1) -> Trail:
    """Where the exception came from that ended the run, or the one that passes at a step. Raises NoTrailError."""
    raises = origins.trace.raises
    if step < 0:
        if origins.trace.outcome.outcome != "raised" or not len(raises.step):
            raise NoTrailError("No exception ended this run.")
        step = int(raises.step[-1])
    elif not (find(raises.step, step) < len(raises.step) and raises.step[find(raises.step, step)] == step):
        raise NoTrailError(f"No exception passes at step {step}.")
    return Trail(origins, [origins.raised(step)])


def trail_of_end(origins: Origins) -> Trail:
    """Why a run that was stopped had not ended: the decisions of the loop, or of the calls, that it stood in. Raises
    NoTrailError for a run that was not stopped."""
    recording, trace = origins.recording, origins.trace
    if trace.outcome.outcome not in ("stopped", "running"):
        raise NoTrailError("This run came to its end by itself.")
    busiest = busiest_loop(recording, recording.stepping.last())
    if busiest is not None:
        frame = recording.stepping.frame_of(busiest.step)
        return Trail(origins, [origins.decision(origins.decisions.latest(busiest.loop, frame, busiest.step + 1))])
    visit = visit_at(recording, recording.stepping.last())
    if visit < 0 or trace.steps.kind[visit] != StepKind.LINE:
        raise NoTrailError("The run was stopped before anything ran.")
    kind = Kind.GIVEN_BACK if isinstance(recording.worked_lines.syntax.at(visit), ast.Return) else Kind.STORED
    return Trail(origins, [Moment(kind, visit, "")])
