"""A judge of trails: another literal in the text that makes another value has to be in the trail of that value."""

from __future__ import annotations

import ast
import random
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path

from eelgrass.reading.recording import Recording
from eelgrass.reading.state import value_text
from eelgrass.reading.state.call_stack import bindings_of
from eelgrass.reading.trails.moments import Kind, Moment
from eelgrass.reading.trails.origins import Origins
from eelgrass.reading.trails.trail import NoTrailError, trail_of_expression
from eelgrass.reading.trails.visits_of_writes import visit_at
from eelgrass.trace.model import Trace
from eelgrass.trace.values import NOT_SET
from support import first_year
from support.runs import run_of_text

#: So many frames of each function are looked at.
_MOST_FRAMES = 3
#: A trail with more links is not looked at to its end.
_MOST_LINKS = 20_000


@dataclass(frozen=True)
class Change:
    """A literal of a text, and the text with another one in its place."""

    literal: ast.Constant
    text: str


def changes(source: str, draw: random.Random) -> Iterator[Change]:
    """Texts in each of which one number, text or truth value is another one, in an order drawn by chance."""
    formats = {
        id(part) for node in ast.walk(ast.parse(source)) if isinstance(node, ast.JoinedStr) for part in ast.walk(node)
    }
    nodes = [
        node
        for node in ast.walk(ast.parse(source))
        if isinstance(node, ast.Constant) and type(node.value) in (int, str, bool, float) and id(node) not in formats
    ]
    draw.shuffle(nodes)
    lines = source.splitlines(keepends=True)
    joined = {node.lineno for node in ast.walk(ast.parse(source)) if isinstance(node, ast.JoinedStr)}
    for node in nodes:
        if node.lineno != node.end_lineno or node.lineno in joined:
            continue
        line = lines[node.lineno - 1].encode()
        other = _another(node.value, draw)
        changed = line[: node.col_offset] + repr(other).encode() + line[node.end_col_offset :]
        yield Change(node, "".join([*lines[: node.lineno - 1], changed.decode(), *lines[node.lineno :]]))


def _another(value: object, draw: random.Random) -> object:
    if isinstance(value, bool):
        return not value
    if isinstance(value, int):
        return draw.choice((value + 1, value - 1, -value or 3, value * 3 + 1, 0 if value else 5))
    if isinstance(value, float):
        return value + draw.choice((1.5, -2.25))
    assert isinstance(value, str)
    return draw.choice((value + "z", value[:-1], value.swapcase() + "q"))


def last_values(trace: Trace) -> dict[tuple[str, int, str], tuple[str, int]]:
    """(function, which of its frames, name) → the plain value at the frame's last step, as text, and that step; for the
    first frames of each function."""
    found = {}
    counted: Counter[str] = Counter()
    for frame in range(len(trace.frames)):
        function = trace.function_of_frame(frame)
        counted[function.name] += 1
        last = int(trace.frames.last[frame]) if function.kind != "module" else len(trace.steps) - 1
        if counted[function.name] > _MOST_FRAMES or last < 0 or function.kind in ("class", "comprehension"):
            continue
        for its in bindings_of(trace, frame, last):
            if its.value != NOT_SET and not its.name.startswith("__"):
                text, is_whole = value_text.text_and_whole(trace, trace.values.get(its.value), last)
                if is_whole:
                    found[function.name, counted[function.name], its.name] = text, last
    return found


#: Whether a link is what was changed.
_Wanted = Callable[[Recording, Moment], bool]


def missing(recording: Recording, changed: Trace, wanted: _Wanted) -> tuple[int, list[tuple[str, int, str]]]:
    """(how many of the last values are others in a changed run; the names of those whose trails do not have what was
    changed)."""
    before, after = last_values(recording.trace), last_values(changed)
    others = [its for its in before if its in after and before[its][0] != after[its][0]]
    return len(others), [its for its in others if not _is_in_trail(recording, its[2], before[its][1], wanted)]


def _is_in_trail(recording: Recording, name: str, step: int, wanted: _Wanted) -> bool:
    try:
        trail = trail_of_expression(Origins(recording), name, step)
    except NoTrailError:
        return False
    for number in trail.walk():
        if wanted(recording, trail.links[number]):
            return True
        if number > _MOST_LINKS:
            raise RuntimeError(f"the trail of {name} is too long to be judged")
    return False


def _is_literal(literal: ast.Constant) -> _Wanted:
    text = ast.unparse(literal)

    def wanted(recording: Recording, its: Moment) -> bool:
        statement = recording.trace.statement_of(its.step)
        covers = statement is not None and statement.line <= literal.lineno <= statement.end_line
        return its.kind == Kind.LITERAL and its.what in (text, f"-{text}") and covers

    return wanted


def _is_typed(place: int) -> _Wanted:
    def wanted(recording: Recording, its: Moment) -> bool:
        texts = recording.trace.texts
        typed = texts.step[texts.channel == 0]
        return its.kind == Kind.TYPED and place < len(typed) and visit_at(recording, int(typed[place])) == its.step

    return wanted


def judge(seed: int, folder: Path, most: int) -> tuple[int, list[str]]:
    """As `judge_text`, for a first-year program."""
    its = first_year.program(seed)
    if its.has_threads or "open(" in its.text:
        return 0, []
    found = judge_text(its.text, its.typed.decode().splitlines(), folder, random.Random(seed), most)
    return found[0], [f"{seed}: {wrong}" for wrong in found[1]]


def judge_text(text: str, typed: list[str], folder: Path, draw: random.Random, most: int) -> tuple[int, list[str]]:
    """For a program and so many runs with one literal, or one typed line, changed: (how many values became others; each
    whose trail does not have what was changed, in words)."""
    recording = _recorded(text, typed, folder)
    if recording.trace.outcome.outcome != "finished":
        return 0, []
    others = [
        (
            _recorded(its.text, typed, folder),
            _is_literal(its.literal),
            f"line {its.literal.lineno}, {its.literal.value!r}",
        )
        for its in list(changes(text, draw))[:most]
    ]
    for place in draw.sample(range(len(typed)), min(most, len(typed))):
        line = f"{draw.randrange(20)}" if typed[place].isdecimal() else f"{typed[place]}x"
        changed = [*typed[:place], line, *typed[place + 1 :]]
        others.append((_recorded(text, changed, folder), _is_typed(place), f"typed {typed[place]!r}"))
    tried, wrong = 0, []
    for other, wanted, told in others:
        if other.trace.outcome.outcome == "finished":
            count, left_out = missing(recording, other.trace, wanted)
            tried += count
            wrong += [f"{told}: {name}" for name in left_out]
    return tried, wrong


def _recorded(text: str, typed: list[str], folder: Path) -> Recording:
    return Recording(run_of_text(text, typed, folder, max_steps=20_000, max_seconds=20, seed=1))
