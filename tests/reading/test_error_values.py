"""The values that an exception was about."""

from __future__ import annotations

import pytest
from conftest import Record

from eelgrass.reading.error_values import error_values


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("total = '12'\nlevel = 3\nprint(total + level)\n", "“total” is '12' (text), “level” is 3 (whole number)."),
        (
            "beds = [1, 2]\nplace = 5\nprint(beds[place])\n",
            "“beds” is [1, 2] (list of 2), “place” is 5 (whole number).",
        ),
        ("def mean(beds):\n    return sum(beds) / len(beds)\nmean([])\n", "“beds” is [] (list of 0)."),
        ("code = 'x1'\nprint(int(code))\n", "“code” is 'x1' (text)."),
        ("print(int('x1'))\n", ""),
        ("print(crab)\n", ""),
    ],
)
def test_an_exception_is_told_with_the_names_and_values_of_its_part(record: Record, text: str, told: str) -> None:
    recording = record(text)
    assert error_values(recording, recording.exceptions[-1]) == told
