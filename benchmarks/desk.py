"""Generated programs with windows, at the desk and on a real screen: `./bench desk [PROGRAMS [FIRST]]`."""

from __future__ import annotations

import importlib
import os
import subprocess
import sys
import tempfile
from pathlib import Path

from eelgrass.runs.order import Desk, Order
from eelgrass.runs.run import Run
from eelgrass.trace.model import Texts

sys.path.append(str(Path(__file__).parents[1] / "tests"))
generated = importlib.import_module("support.generated_desk")


def otherwise(seed: int, display: str, folder: Path) -> list[tuple[str, str]]:
    """The lines that are printed otherwise on a screen (first) and at the desk."""
    program = folder / "program.py"
    program.write_text(generated.program(seed))
    environment = {**os.environ, "DISPLAY": display}
    shown = subprocess.run([sys.executable, str(program)], env=environment, capture_output=True, text=True, timeout=60)
    run = Run(Order(program, desk=Desk()))
    run.start()
    told = "".join(run.fed([]).texts.of(Texts.OUTPUT))
    real, ours = shown.stdout.splitlines(), told.splitlines()
    longest = max(len(real), len(ours))
    pairs = zip(real + ["-"] * (longest - len(real)), ours + ["-"] * (longest - len(ours)), strict=True)
    return [(one, other) for one, other in pairs if one != other]


def main(programs: int = 50, first: int = 0) -> int:
    """Prints what is otherwise; gives how many programs said anything else."""
    wrong = lines = 0
    with (
        tempfile.TemporaryDirectory() as folder,
        subprocess.Popen(["Xvfb", "-displayfd", "1"], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL) as screen,
    ):
        assert screen.stdout is not None
        display = f":{screen.stdout.readline().decode().strip()}"
        for seed in range(first, first + programs):
            found = otherwise(seed, display, Path(folder))
            wrong += bool(found)
            lines += len(found)
            for real, ours in found[:1]:
                operation = generated.program(seed).split("\n")
                asked = next((its for its in operation if its.startswith(f"tell({real.split()[0]},")), "")
                print(f"{seed}: {asked}\n    screen {real}\n    desk   {ours}")
        screen.terminate()
    print(f"{programs} programs of 40 operations: {wrong} otherwise somewhere, {lines} lines")
    return wrong


if __name__ == "__main__":
    sys.exit(min(main(*map(int, sys.argv[1:])), 1))
