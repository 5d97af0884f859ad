"""What somebody says before it is shown, and what that is worth."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from eelgrass.lessons.cases.literals import read_value
from eelgrass.lessons.judging.judging import alike
from eelgrass.reading.state import value_text

Kind = Literal["way", "passes", "value", "returns", "output", "line"]
_TRUE = frozenset(("true", "t", "yes", "y"))
_FALSE = frozenset(("false", "f", "no", "n"))


@dataclass(frozen=True)
class Prediction:
    """What to ask before a step: `ask` in words, what is `expected` (a Python literal, "true" or "false", a number, or
    the text printed), and the `values` that it comes from."""

    step: int
    kind: Kind
    ask: str
    expected: str
    values: str


@dataclass(frozen=True)
class Verdict:
    """Whether an answer is right, and what there is to say, without scolding."""

    is_right: bool
    told: str


def judged(prediction: Prediction, given: str) -> Verdict:
    """What an answer is worth. Values are compared by value, not by spelling."""
    right, hint = _compare(prediction, given.strip())
    told = outcome_words(prediction)
    return Verdict(right, f"{'Yes. ' if right else ''}{told}{' ' + hint if hint and not right else ''}")


def outcome_words(prediction: Prediction) -> str:
    """What comes of it, in a sentence."""
    what = {
        "way": f"It is {prediction.expected}",
        "passes": f"It makes {prediction.expected} {'pass' if prediction.expected == '1' else 'passes'}",
        "value": f"It is {prediction.expected}",
        "returns": f"It gives back {prediction.expected}",
        "output": f"It prints {prediction.expected}",
        "line": f"Line {prediction.expected} runs next",
    }[prediction.kind]
    return f"{what}, from {prediction.values}." if prediction.values else f"{what}."


def _compare(prediction: Prediction, given: str) -> tuple[bool, str]:
    if prediction.kind == "way":
        said = True if given.lower() in _TRUE else False if given.lower() in _FALSE else None
        return said is not None and said == (
            prediction.expected == "true"
        ), "Say true or false." if said is None else ""
    if prediction.kind == "line":
        return given.lower().removeprefix("line").strip() == prediction.expected, ""
    if prediction.kind == "output":
        return given == prediction.expected.strip(), ""
    expected, said_value = read_value(prediction.expected), read_value(given)
    if said_value is None or expected is None:
        is_text = expected is not None and isinstance(expected[0], str)
        return False, "A text is written with quotation marks around it." if is_text else ""
    right = alike(said_value[0], expected[0])
    return right, "" if right else _difference(said_value[0], expected[0])


def _difference(said: object, expected: object) -> str:
    """Why two values that look alike are not the same."""
    if type(said) is not type(expected) and str(said) == str(expected):
        words = [value_text.TYPE_WORDS.get(type(its).__name__, type(its).__name__) for its in (said, expected)]
        return f"{said!r} is a {words[0]}, {expected!r} a {words[1]}."
    if type(said) in (int, float) and type(expected) in (int, float) and said == expected:
        return f"{said!r} and {expected!r} are equal numbers, but of different types."
    return ""
