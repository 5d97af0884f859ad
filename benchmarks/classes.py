"""A made-up class: how pure the groups are, all runs against the runs alone, and what many hand-ins take of memory."""

from __future__ import annotations

import importlib
import os
import resource
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from pathlib import Path

from benchmarks.check import run_alone
from benchmarks.measure import machine
from eelgrass.lessons.cases.call_only import alone
from eelgrass.lessons.class_sets.class_runs import own_cores
from eelgrass.lessons.class_sets.class_set import ClassSet, class_set
from eelgrass.lessons.class_sets.hand_ins import HandIn, hand_ins
from eelgrass.lessons.class_sets.kept_outcomes import KeptOutcomes
from eelgrass.lessons.demo_lesson import demo_lesson
from eelgrass.lessons.exercises.exercise import Exercise, copy_files
from eelgrass.runs.confinement import hide_from_programs
from eelgrass.runs.order import Leave

sys.path.insert(0, str(Path(__file__).parents[1] / "tests"))
made_up_class = importlib.import_module("support.made_up_class")


def main() -> None:
    """A class of as many hand-ins as the first argument says (300) over three exercises."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 300
    print(machine())
    hide_from_programs()
    behaviours = sum(map(len, made_up_class.BEHAVIOURS.values()))
    with tempfile.TemporaryDirectory() as made:
        for name, its in made_up_class.BEHAVIOURS.items():
            folder = Path(made) / name
            folder.mkdir()
            _measure(name, folder, max(count // behaviours, 1), len(its))
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"at the most {peak:.0f} MiB of memory, without the programs' own")


def _measure(name: str, folder: Path, each: int, behaviours: int) -> None:
    made = made_up_class.make(name, folder, each)
    exercise = demo_lesson().exercise(name)
    handed = hand_ins([folder], exercise)
    # Nobody's is the same as another's, so that all are run.
    handed = [replace(one, text=f"{one.text}\n# {one.name}\n") for one in handed]
    begun = time.perf_counter()
    with own_cores(None, Leave()) as workers, tempfile.TemporaryDirectory() as kept:
        store = KeptOutcomes(Path(kept) / "kept.sqlite")
        its = class_set(exercise, handed, workers, store)
        whole = time.perf_counter() - begun
        begun = time.perf_counter()
        class_set(exercise, handed, workers, store)
        again = time.perf_counter() - begun
        store.close()
    runs = _alone(exercise, handed)
    size = f"{len(handed)} hand-ins × {len(exercise.cases)} cases"
    groups = f"{len(its.groups)} groups for {behaviours} behaviours, purity {_purity(its, made):.3f}"
    more = f"{(whole / runs - 1) * 100:+.0f} %, goal 20"
    print(f"{name}: {size}, {groups}; {whole:.1f} s, the runs alone {runs:.1f} s ({more}), again {again:.2f} s")


def _purity(its: ClassSet, made: dict[str, int]) -> float:
    """The share of hand-ins whose group is mostly of their behaviour."""
    right = 0
    for group in its.groups:
        of = [made[name] for name in group.names]
        right += max(of.count(behaviour) for behaviour in set(of))
    return right / len(its.judged)


def _alone(exercise: Exercise, handed: list[HandIn]) -> float:
    """The seconds of the same runs, confined as well, with nobody who builds or judges recordings."""
    programs = []
    with tempfile.TemporaryDirectory() as made:
        for number, its in enumerate(handed):
            for place, case in enumerate(exercise.cases):
                folder = Path(made) / f"{number}-{place}"
                folder.mkdir()
                copy_files(exercise.files(), exercise.folder, folder)
                try:
                    text = its.text if case.call is None else alone(its.text, case.call)
                except SyntaxError:
                    continue
                (folder / exercise.program.name).write_text(text)
                programs.append((folder / exercise.program.name, "".join(line + "\n" for line in case.input)))
        begun = time.perf_counter()
        with ThreadPoolExecutor((os.cpu_count() or 1) + 1) as workers:
            list(workers.map(lambda one: run_alone(one[0], one[1], Leave()), programs))
        return time.perf_counter() - begun


if __name__ == "__main__":
    main()
