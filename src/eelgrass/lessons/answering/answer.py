"""A student's answer to an exercise: the marked lines, the reason, the evidence, the hints used, the program and what
came of its cases. One JSON file, described in `docs/formats/exercise.md`."""

from __future__ import annotations

from pathlib import Path

import msgspec

from eelgrass.atomic_write import replace_file
from eelgrass.errors import EelgrassError
from eelgrass.lessons.exercises.marked_lines import MarkedLine
from eelgrass.lessons.judging.judging import Result

SUFFIX = ".eelanswer"
FORMAT = 1
MOST_BYTES = 1 << 23


class AnswerError(EelgrassError):
    """An answer that cannot be read; the message is a sentence for the person."""


class Evidence(msgspec.Struct, frozen=True):
    """A step that shows the error: the case that was run, the line (of the program's main module, or of `file`), which
    visit of it, and what was true there. Or a trail: where it was asked, what, and its moments, with a note."""

    case: str
    line: int
    visit: int
    told: str
    file: str = ""
    moments: tuple[Evidence, ...] = ()
    note: str = ""


class Said(msgspec.Struct, frozen=True):
    """Something said before it was shown: the line, what was asked, what was said, what is so, and whether that is the
    same."""

    line: int
    asked: str
    said: str
    expected: str
    is_right: bool


class Answer(msgspec.Struct, frozen=True):
    """What a student found. `lines` are those of the program as it was `given`, with their `statements`; `elsewhere`,
    those of its other modules; `results` by case: the verdict and why; `desk_checks` by table: tries, and the right and
    wrong cells of the latest; `comment` is the instructor's."""

    exercise: str
    lines: tuple[int, ...] = ()
    statements: tuple[str, ...] = ()
    reason: str = ""
    evidence: tuple[Evidence, ...] = ()
    hints_used: int = 0
    given: str = ""
    program: str = ""
    results: dict[str, tuple[str, str]] = {}
    predictions: tuple[Said, ...] = ()
    desk_checks: dict[str, tuple[int, int, int]] = {}
    comment: str = ""
    elsewhere: tuple[MarkedLine, ...] = ()
    format: int = FORMAT


def encoded(answer: Answer) -> bytes:
    """An answer as its file holds it."""
    return msgspec.json.format(msgspec.json.encode(answer), indent=1)


def save(answer: Answer, path: Path) -> None:
    """Writes an answer in one go. Raises OSError."""
    replace_file(path, encoded(answer))


def load(path: Path) -> Answer:
    """Reads an answer. Raises AnswerError."""
    if path.exists() and not path.is_file():
        raise AnswerError(f"“{path.name}” is no answer.")  # a pipe or a device would never end
    try:
        with path.open("rb") as file:
            data = file.read(MOST_BYTES + 1)
    except OSError as error:
        raise AnswerError(f"“{path.name}” cannot be read: {error.strerror}.") from error
    return decoded(data, path.name)


def decoded(data: bytes, name: str) -> Answer:
    """An answer from what its file `name` holds. Raises AnswerError."""
    if len(data) > MOST_BYTES:
        raise AnswerError(f"“{name}” is too large for an answer.")
    try:
        answer = msgspec.json.decode(data, type=Answer)
    except (ValueError, msgspec.DecodeError, RecursionError) as error:
        raise AnswerError(f"“{name}” is no answer, or it is damaged ({error}).") from error
    if answer.format != FORMAT:
        raise AnswerError(f"“{name}” is an answer of format {answer.format}; this Eelgrass reads {FORMAT}.")
    return answer


def told(results: list[Result]) -> dict[str, tuple[str, str]]:
    """Results as an answer keeps them."""
    return {result.case: (result.verdict, f"{result.why} {result.first_wrong}".strip()) for result in results}
