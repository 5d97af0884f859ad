"""The first moment at which a program does something else than the model on the same case."""

from __future__ import annotations

from eelgrass.reading.comparing.alignment import Alignment
from eelgrass.reading.comparing.differences import Apart, Kind, differences
from eelgrass.reading.comparing.sentences import apart_words
from eelgrass.reading.recording import Recording
from eelgrass.reading.visible import VisibleRun


def first_wrong(given: Recording, model: Recording) -> str:
    """That moment in a sentence, with the values in both; '' where the runs do the same."""
    alignment = Alignment(given, model)
    its = next(iter(differences(alignment)), None)
    if its is None:
        return ""
    words = apart_words(its, alignment, "", "with the model")
    return f"First otherwise than the model {_where(given, its)}{words}."


def _where(recording: Recording, its: Apart) -> str:
    found = VisibleRun(recording).pass_at(its.here) if its.here >= 0 and its.kind != Kind.OUTPUT else None
    return f"in pass {found.number}, " if found is not None and found.number else "at "
