"""The first hour in front of a class, by real keys in a real window."""

from __future__ import annotations

import shutil
import subprocess
import sys
from pathlib import Path

import pytest
from support.virtual_screen import virtual_screen

_SUPPORT = Path(__file__).parents[1]


@pytest.mark.xvfb
@pytest.mark.skipif(not (shutil.which("Xvfb") and shutil.which("xdotool")), reason="./test installs a screen and keys")
def test_the_hour_goes_without_a_hitch(tmp_path: Path) -> None:
    with virtual_screen() as screen:
        environment = {**screen, "XDG_STATE_HOME": str(tmp_path / "state"), "PYTHONPATH": str(_SUPPORT)}
        command = [sys.executable, "-m", "support.hour", str(tmp_path)]
        done = subprocess.run(command, env=environment, capture_output=True, text=True, timeout=520, check=False)
    assert done.stdout.strip() == "the hour is over", done.stderr[-6000:]
