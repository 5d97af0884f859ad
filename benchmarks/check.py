"""`eelgrass check` over many submissions, against the time of their runs alone."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from benchmarks.measure import machine
from eelgrass.lessons.cases.call_only import alone
from eelgrass.lessons.demo_lesson import demo_lesson
from eelgrass.lessons.judging.judging import judge_all
from eelgrass.runs.child.child_process import start_child
from eelgrass.runs.child.room import Room
from eelgrass.runs.order import Leave, Order

_SUBMISSIONS = 200


def run_alone(program: Path, typed: str, leave: Leave | None = None) -> None:
    """A recorded child, and somebody who reads what it tells, and nothing else."""
    child = start_child(
        Order(program, seed=1, max_steps=500_000, leave=leave),
        Room(program.parent),
        stdin=subprocess.PIPE,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )
    stdin = child.process.stdin
    assert stdin is not None
    stdin.write(typed.encode())
    stdin.close()
    while os.read(child.stream, 1 << 20):
        pass
    os.close(child.stream)
    child.process.wait()


def main() -> None:
    """Measures as many submissions as the first argument says, or 200."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else _SUBMISSIONS
    exercise = demo_lesson().exercise("gauge_report")
    assert exercise.model is not None
    texts = [exercise.program.read_text(), exercise.model]
    print(machine())
    with tempfile.TemporaryDirectory() as folder:
        programs = []
        for number in range(2 * len(exercise.cases)):
            case, text = exercise.cases[number // 2], texts[number % 2]
            place = Path(folder) / str(number)
            place.mkdir()
            for path in exercise.files():
                (place / path.name).write_bytes(path.read_bytes())
            (place / exercise.program.name).write_text(text if case.call is None else alone(text, case.call))
            programs.append((place / exercise.program.name, "".join(line + "\n" for line in case.input)))
        begun = time.perf_counter()
        with ThreadPoolExecutor(os.cpu_count()) as workers:
            list(workers.map(lambda its: run_alone(*its), programs * (count // 2)))
        runs = time.perf_counter() - begun
    begun = time.perf_counter()
    told_ = list(judge_all(exercise, [(str(number), texts[number % 2]) for number in range(count)]))
    whole = time.perf_counter() - begun
    passed = sum(result.is_passed for _, results in told_ for result in results)
    cases = count * len(exercise.cases)
    print(f"{count} submissions, {cases} cases, {passed} passed: runs alone {runs:.1f} s, check {whole:.1f} s, "
          f"{(whole / runs - 1) * 100:.0f} % more (goal 20 %)")  # fmt: skip


if __name__ == "__main__":
    main()
