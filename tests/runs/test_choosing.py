"""Which Python runs the programs of a folder."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest
from support.other_pythons import python_of

from eelgrass.reading.lines.error_explanations import explained
from eelgrass.runs.order import CannotRunError, Order
from eelgrass.runs.pythons import choosing
from eelgrass.runs.pythons.choosing import choice, choose, choose_usual, known, offered
from eelgrass.runs.pythons.interpreters import check_text_by, interpreter
from eelgrass.runs.repeating import SideRunError
from eelgrass.runs.run import Run
from eelgrass.runs.side_run import ask_aside


@pytest.fixture(autouse=True)
def nothing_said(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    monkeypatch.delenv(choosing.VARIABLE)
    monkeypatch.delenv("VIRTUAL_ENV", raising=False)
    monkeypatch.setenv("PATH", str(tmp_path / "bin"))


def _environment(place: Path) -> Path:
    subprocess.run([sys.executable, "-m", "venv", "--without-pip", place], check=True)
    return place / "bin" / "python"


def _stand_in(file: Path, answer: str) -> Path:
    file.parent.mkdir(parents=True, exist_ok=True)
    file.write_text(f"#!/bin/sh\necho '{answer}'\n")
    file.chmod(0o755)
    return file


def test_the_persons_choice_comes_before_the_environment_and_that_before_the_path(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    folder = tmp_path / "pier" / "week 3"
    folder.mkdir(parents=True)
    assert choice(folder) == (choice(folder).interpreter, "Eelgrass's own")
    assert choice(folder).interpreter.python is None
    answer = f'["cpython", [3, 12, 9], [], true, "{tmp_path}/bin/python3", "/nowhere"]'
    _stand_in(tmp_path / "bin" / "python3", answer)
    assert (choice(folder).interpreter.name, choice(folder).words) == ("Python 3.12.9", "of the PATH")

    above = _environment(tmp_path / "pier" / "venv")
    assert choice(folder).words == "of the PATH"  # that folder is none of a project's
    (tmp_path / "pier" / "pyproject.toml").write_text("")
    assert choice(folder).interpreter.file == above
    own = _environment(folder / ".venv")
    assert choice(folder).interpreter.file == own
    assert [place.words for place in offered(folder)] == [".venv", "venv", "of the PATH", "Eelgrass's own"]

    choose(folder, above)
    assert (choice(folder).interpreter.file, choice(folder).words) == (above, "chosen")
    choose(folder, None)
    assert choice(folder).interpreter.python is None
    choose_usual(folder)
    assert choice(folder).interpreter.file == own
    monkeypatch.setenv(choosing.VARIABLE, str(above))
    assert choice(folder).words == choosing.VARIABLE


def test_what_was_not_asked_yet_is_not_known(tmp_path: Path) -> None:
    python = _stand_in(tmp_path / "bin" / "python3", '["cpython", [3, 12, 9], [], true, "/python3", "/nowhere"]')
    assert known(tmp_path) is None
    assert choice(tmp_path) == known(tmp_path)
    _stand_in(python, "tide")
    os.utime(python, (1, 1))
    assert known(tmp_path) is None
    choice(tmp_path)
    assert known(tmp_path) == (interpreter(None), "Eelgrass's own")


def test_a_text_is_judged_by_the_grammar_of_the_python_that_runs_it(tmp_path: Path) -> None:
    program = tmp_path / "levels.py"
    program.write_text("type Level = int\n")
    check_text_by(interpreter(python_of("3.12")), program, None)
    with pytest.raises(CannotRunError, match=r"for line 2 \(“tide =”\): Python does not understand this"):
        check_text_by(interpreter(python_of("3.12")), program, "type Level = int\ntide =\n")
    liar = _stand_in(tmp_path / "python3", '["cpython", [3, 99, 0], [], true, "/bin/false", "/nowhere"]')
    with pytest.raises(CannotRunError, match="does not answer as a Python does"):
        check_text_by(interpreter(liar), program, None)


def test_what_cannot_be_used_is_said_or_passed_over(tmp_path: Path) -> None:
    _stand_in(tmp_path / "bin" / "python3", "tide")
    assert choice(tmp_path).words == "Eelgrass's own"
    _stand_in(tmp_path / ".venv" / "bin" / "python", '["cpython", [3, 9, 2], [], true, "", ""]')
    (tmp_path / ".venv" / "pyvenv.cfg").write_text("")
    with pytest.raises(CannotRunError, match=r"is Python 3\.9\.2; .* Choose another Python for this folder\."):
        choice(tmp_path)
    choose(tmp_path, tmp_path / "none")
    with pytest.raises(CannotRunError, match="There is no Python at"):
        choice(tmp_path)


def _recorded(folder: Path, text: str, python: Path | None) -> Run:
    (folder / "program.py").write_text(text)
    run = Run(Order(folder / "program.py", python=python))
    run.start()
    run.end_input()
    return run


def test_side_runs_are_made_by_the_folders_python_if_it_is_of_the_version_of_the_recording(tmp_path: Path) -> None:
    other = python_of("3.13" if sys.version_info[:2] != (3, 13) else "3.12")
    trace = _recorded(tmp_path, "def level():\n    return 7\nlevel()\n", other).wait()
    assert trace.case["python"]["version"].startswith(other.name.removeprefix("python"))
    with pytest.raises(SideRunError, match=r"This recording was made by Python 3\.1"):
        ask_aside(trace, 1, 0, "level()")
    choose(tmp_path, other)
    answer = ask_aside(trace, len(trace.steps) - 1, 0, "level() + 1")
    assert (answer.text, answer.raised) == ("8", "")


def test_a_missing_module_is_looked_for_and_installed_where_the_program_ran(tmp_path: Path) -> None:
    python = _environment(tmp_path / ".venv")
    trace = _recorded(tmp_path, "import gauges\n", choice(tmp_path).interpreter.python).wait()
    assert "No module named 'gauges'" in (trace.outcome.reason or "")
    meaning = explained("ModuleNotFoundError", "No module named 'gauges'", trace.case)
    assert meaning.endswith(f"To install one: “{python} -m pip install gauges”.")
