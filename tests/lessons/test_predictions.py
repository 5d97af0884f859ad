"""What is worth asking before a step, and what an answer is worth."""

from __future__ import annotations

from conftest import Record
from support.programs import MATES

from eelgrass.lessons.answering.prediction_points import prediction_at
from eelgrass.lessons.answering.predictions import Prediction, judged
from eelgrass.reading.recording import Recording


def asked(recording: Recording) -> list[tuple[int, str, str]]:
    found = [prediction_at(recording, step) for step in recording.stepping.stops.tolist()]
    return [(recording.trace.line_of(its.step), its.kind, its.expected) for its in found if its is not None]


def test_what_is_worth_asking_and_nothing_else(record: Record) -> None:
    recording = record(MATES)
    assert asked(recording) == [
        (10, "value", "['mo', 'ti']"),  # which has another name
        (11, "passes", "2"),
        (12, "output", "mean 1.5"),
        (3, "passes", "3"),
        (4, "way", "false"),
        (6, "value", "1"),
        (4, "way", "false"),
        (6, "value", "3"),
        (4, "way", "true"),  # otherwise than before
        (5, "line", "3"),
        (7, "returns", "1.5"),
        (12, "output", "mean 4.5"),
        (3, "passes", "2"),
        (4, "way", "false"),
        (7, "returns", "4.5"),
    ]
    shared = prediction_at(recording, int(recording.visits.of_line(0, 10)[0]))
    assert shared is not None
    assert shared.ask == "What will be in crew after this line?"
    adds = prediction_at(recording, int(recording.visits.of_line(0, 6)[1]))
    assert adds is not None
    assert adds.values == "total = 1, level = 2"


def test_answers_are_compared_by_value_and_differences_explained() -> None:
    def told(expected: str, said: str, kind: str = "value") -> tuple[bool, str]:
        verdict = judged(Prediction(0, kind, "", expected, "level = 1"), said)  # type: ignore[arg-type]
        return verdict.is_right, verdict.told

    assert told("[1, 2]", "[1,2]") == (True, "Yes. It is [1, 2], from level = 1.")
    assert told("'mo'", '"mo"')[0]
    assert told("0.3", "0.30")[0]
    assert told("3", "'3'") == (False, "It is 3, from level = 1. '3' is a text, 3 a whole number.")
    assert told("3.0", "3")[1].endswith("3 and 3.0 are equal numbers, but of different types.")
    assert told("'mo'", "mo")[1].endswith("A text is written with quotation marks around it.")
    assert told("true", "Yes", "way")[0]
    assert not told("true", "false", "way")[0]
    assert told("true", "perhaps", "way")[1].endswith("Say true or false.")
    assert told("3", "3", "passes")[0]
    assert told("mean 1.5", "mean 1.5", "output")[0]
    assert not told("3", "__import__('os')")[0]
