"""The first hour in front of a class, by real keys in a real window."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

_SUPPORT = Path(__file__).parents[1]


@pytest.mark.xvfb
@pytest.mark.skipif(
    not (shutil.which("xvfb-run") and shutil.which("xdotool")), reason="./test installs a screen and keys"
)
def test_the_hour_goes_without_a_hitch(tmp_path: Path) -> None:
    kept = {key: value for key, value in os.environ.items() if not key.startswith("QT_")}
    environment = {**kept, "XDG_STATE_HOME": str(tmp_path / "state"), "PYTHONPATH": str(_SUPPORT)}
    command = ["xvfb-run", "-a", "-s", "-screen 0 1400x900x24", sys.executable, "-m", "support.hour", str(tmp_path)]
    done = subprocess.run(command, env=environment, capture_output=True, text=True, timeout=120, check=False)
    assert done.stdout.strip() == "the hour is over", done.stderr[-2000:]
