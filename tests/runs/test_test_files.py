"""Files of tests are run by pytest where they would do nothing by themselves."""

from __future__ import annotations

from pathlib import Path

import pytest

from eelgrass.reading.recording import Recording
from eelgrass.runs.order import Order
from eelgrass.runs.programs import test_files
from eelgrass.runs.run import Run
from eelgrass.runs.side_run import ask_aside

TESTS = "import tides\n\ndef test_mean():\n    level = tides.mean([2, 4])\n    assert level == 3\n"


def test_a_file_of_tests_is_run_by_pytest_in_a_copy_of_its_folder_and_asked_aside(tmp_path: Path) -> None:
    program = tmp_path / "shore_tests.py"
    program.write_text(TESTS.replace("3", "4"))
    (tmp_path / "tides.py").write_text("def mean(levels):\n    return sum(levels) / len(levels)\n")
    order = test_files.by_pytest(Order(program, texts={str(program): TESTS}, seed=1), ())
    run = Run(order)
    run.start()
    recording = Recording(run.wait())
    assert "1 passed" in "".join(recording.trace.texts.pieces)
    asserts = max(its for its in recording.stepping.stops.tolist() if recording.trace.line_of(its) == 5)
    assert ask_aside(recording.trace, asserts, 0, "tides.mean([level, 5])").text == "4.0"
    assert sorted(file.name for file in tmp_path.iterdir()) == ["shore_tests.py", "tides.py"]


@pytest.mark.parametrize(
    "text",
    [
        "def tide():\n    pass\n",
        "def test(level):\n    return level\n",
        f"{TESTS}mean = test_mean()\n",
        f"{TESTS}test_mean()\n",
        f"{TESTS}if __name__ == '__main__':\n    test_mean()\n",
    ],
)
def test_a_program_that_runs_by_itself_is_left_alone(text: str) -> None:
    assert not test_files.holds_tests(text)


def test_where_there_is_no_pytest_a_file_of_tests_runs_as_any_program(tmp_path: Path) -> None:
    program = tmp_path / "shore_tests.py"
    program.write_text(TESTS)
    order = Order(program)
    assert test_files.by_pytest(order, (str(tmp_path),)) is order
