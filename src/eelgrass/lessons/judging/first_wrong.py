"""The first moment at which a program does something else than the model on the same case."""

from __future__ import annotations

from dataclasses import dataclass

from eelgrass.reading.comparing.alignment import Alignment
from eelgrass.reading.comparing.differences import Apart, Kind, differences
from eelgrass.reading.comparing.sentences import apart_words
from eelgrass.reading.recording import Recording
from eelgrass.reading.visible import VisibleRun


@dataclass(frozen=True)
class FirstWrong:
    """That moment in a `sentence`, with the values in both; and the same `moment` for all programs that go wrong at the
    same statement of the model, in the same way."""

    sentence: str = ""
    moment: str = ""


def first_wrong(given: Recording, model: Recording) -> str:
    """That moment in a sentence, with the values in both; '' where the runs do the same."""
    return first_wrong_moment(given, model).sentence


def first_wrong_moment(given: Recording, model: Recording) -> FirstWrong:
    """That moment, however it is told; an empty one where the runs do the same."""
    alignment = Alignment(given, model)
    its = next(iter(differences(alignment)), None)
    if its is None:
        return FirstWrong()
    words = apart_words(its, alignment, "", "with the model")
    line = model.trace.line_of(its.there) if its.there >= 0 else 0
    return FirstWrong(f"First otherwise than the model {_where(given, its)}{words}.", f"{its.kind} {line} {its.there}")


def _where(recording: Recording, its: Apart) -> str:
    found = VisibleRun(recording).pass_at(its.here) if its.here >= 0 and its.kind != Kind.OUTPUT else None
    return f"in pass {found.number}, " if found is not None and found.number else "at "
