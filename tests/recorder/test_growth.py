"""What is told grows with what a program changes, not with how much there is."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

import pytest
from support import told

from benchmarks.idioms import PROGRAMS
from eelgrass.recorder.packing import IS_COMPILED


@pytest.mark.parametrize("name", PROGRAMS)
def test_four_times_the_changes_take_about_four_times_as_much(name: str, tmp_path: Path) -> None:
    if "nothing is held" in name and not IS_COMPILED:
        pytest.skip("what a list is called once nothing holds it is known to compiled hooks alone")
    sizes = []
    for changes in (200, 800):
        program = tmp_path / f"changes_{changes}.py"
        program.write_text(PROGRAMS[name].replace("N", str(changes)))
        done = subprocess.run([sys.executable, told.__file__, program], capture_output=True, check=True, text=True)
        sizes.append(int(done.stdout.split()[-1]))
    assert sizes[0] > 200
    assert sizes[1] < 6 * sizes[0]
