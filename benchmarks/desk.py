"""Generated programs with windows, at the desk and on a real screen: `./bench desk [PROGRAMS [FIRST [KIND]]]`."""

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
PROGRAMS = importlib.import_module("support.generated_windows").PROGRAMS


def otherwise(text: str, display: str, folder: Path) -> tuple[int, list[tuple[str, str]]]:
    """How many lines a program prints, and those that are otherwise on a screen (first) and at the desk."""
    program = folder / "program.py"
    program.write_text(text)
    environment = {**os.environ, "DISPLAY": display}
    shown = subprocess.run([sys.executable, str(program)], env=environment, capture_output=True, text=True, timeout=60)
    run = Run(Order(program, desk=Desk()))
    run.start()
    told = "".join(run.fed([]).texts.of(Texts.OUTPUT))
    real, ours = shown.stdout.splitlines(), told.splitlines()
    longest = max(len(real), len(ours))
    pairs = zip(real + ["-"] * (longest - len(real)), ours + ["-"] * (longest - len(ours)), strict=True)
    return longest, [(one, other) for one, other in pairs if one != other]


def main(programs: int, first: int, kinds: list[str]) -> int:
    """Prints what is otherwise; gives how many programs said anything else."""
    all_wrong = 0
    with (
        tempfile.TemporaryDirectory() as folder,
        subprocess.Popen(["Xvfb", "-displayfd", "1"], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL) as screen,
    ):
        assert screen.stdout is not None
        display = f":{screen.stdout.readline().decode().strip()}"
        for kind in kinds:
            wrong = lines = different = 0
            for seed in range(first, first + programs):
                said, found = otherwise(PROGRAMS[kind](seed), display, Path(folder))
                wrong, lines, different = wrong + bool(found), lines + said, different + len(found)
                for real, ours in found[:1]:
                    print(f"{kind} {seed}:\n    screen {real}\n    desk   {ours}")
            print(f"{kind}: {programs} programs, {lines} lines: {wrong} otherwise somewhere, {different} lines")
            all_wrong += wrong
        screen.terminate()
    return all_wrong


if __name__ == "__main__":
    numbers = [int(word) for word in sys.argv[1:3]]
    programs, first = [*numbers, *(50, 0)[len(numbers) :]]
    sys.exit(min(main(programs, first, sys.argv[3:] or list(PROGRAMS)), 1))
