"""What is said: no slips in the table of all sentences, nor in what is said of programs step by step."""

from __future__ import annotations

import pytest
from support.judges import CORPUS
from support.sentences import said_of, sentences, slips

from eelgrass.reading.recording import Recording
from eelgrass.runs.order import Order
from eelgrass.runs.run import Run


def test_the_table_of_all_sentences_has_no_slip() -> None:
    table = sentences()
    assert len(table) > 900
    assert [its for its in table if slips(its.text)] == []


@pytest.mark.parametrize(
    "name", ["async_tides", "crab_class", "linked_nodes", "dictionaries", "uncaught", "try_finally"]
)
def test_nothing_that_is_said_of_a_run_has_a_slip(name: str) -> None:
    run = Run(Order(CORPUS / f"{name}.py"))
    run.start()
    said = list(said_of(Recording(run.fed([])), 25))
    assert len(said) > 40
    assert [text for text in said if slips(text)] == []
