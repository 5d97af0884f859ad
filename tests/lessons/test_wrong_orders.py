"""An order of turns in which a program goes wrong is found, and goes wrong again."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from click.testing import CliRunner
from support.runs import run_of
from support.wrong_orders import PLANTED, PROGRAMS

from eelgrass.cli.main import main
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.judging.wrong_orders import search
from eelgrass.runs.order import Order
from eelgrass.trace.model import Texts


@pytest.mark.parametrize("name", PROGRAMS)
def test_what_is_planted_is_found(name: str, tmp_path: Path) -> None:
    program = tmp_path / "keepers.py"
    program.write_text(PROGRAMS[name])
    found = search(Order(program, seed=1), Case("usual"), seconds=60)
    assert PLANTED[name][1] in found.why
    assert found.turns is not None
    assert found.trace is not None
    assert 1 < found.tried < 60
    again = run_of(program, seed=1, turns=found.turns)
    assert (again.outcome.reason, again.texts.pieces) == (found.trace.outcome.reason, found.trace.texts.pieces)


def test_a_claim_that_breaks_in_one_order_and_a_program_without_threads(tmp_path: Path) -> None:
    (tmp_path / "keepers.py").write_text(PROGRAMS["looked before it leapt"].replace("print(len(taken), seats)", ""))
    case = Case("usual", claims=("seats >= 0",))
    found = search(Order(tmp_path / "keepers.py", seed=1), case, seconds=60)
    assert found.why.startswith("“seats >= 0” does not hold at step ")
    (tmp_path / "alone.py").write_text("print(1)\n")
    assert search(Order(tmp_path / "alone.py"), Case("usual"), seconds=5).is_alone


def test_the_command_writes_the_recording_of_the_order_that_goes_wrong(tmp_path: Path) -> None:
    (tmp_path / "keepers.py").write_text(PROGRAMS["a lost update"])
    target = tmp_path / "wrong.eelrec"
    ran = CliRunner().invoke(main, ["turns", "-o", str(target), str(tmp_path / "keepers.py")])
    told = json.loads(ran.output)
    assert ran.exit_code == 0
    assert len(told["turns"]["switches"]) <= 2
    printed = told["text"].split("”")[0].strip("“")
    from eelgrass.trace.files import recording_file

    assert "".join(recording_file.load(target).texts.of(Texts.OUTPUT)).strip() == printed
