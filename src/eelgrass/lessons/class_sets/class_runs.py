"""All cases of all hand-ins, run on all cores; what is the same is run once, what ran before not at all."""

from __future__ import annotations

import multiprocessing
import os
from collections import deque
from collections.abc import Callable, Sequence
from concurrent.futures import (
    FIRST_COMPLETED,
    BrokenExecutor,
    Executor,
    Future,
    ProcessPoolExecutor,
    ThreadPoolExecutor,
    wait,
)
from contextlib import AbstractContextManager, closing
from dataclasses import dataclass, replace
from typing import Protocol

from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.class_sets.hand_ins import HandIn
from eelgrass.lessons.class_sets.kept_outcomes import KeptOutcomes, files_key, kept_key
from eelgrass.lessons.class_sets.outcomes import Outcome, not_run, outcome_of, run_case
from eelgrass.lessons.exercises.exercise import Exercise
from eelgrass.lessons.judging.judging import Result
from eelgrass.reading.progress import Progress
from eelgrass.runs.confinement import hide_from_programs
from eelgrass.runs.order import Leave

#: So many runs are handed to whoever runs them before the first has come back.
_AHEAD = 64
#: Nobody gives way more.
_LAST = 19
#: A run whose worker died is begun so often.
_MOST_TRIES = 2


@dataclass(frozen=True)
class Judged:
    """A hand-in, and what came of each case."""

    hand_in: HandIn
    outcomes: tuple[Outcome, ...]

    @property
    def passed(self) -> int:
        """How many cases are passed."""
        return sum(its.word == "passed" for its in self.outcomes)


class Workers(Protocol):
    """Whoever runs cases: as many at a time as there is room for."""

    def submit(self, exercise: Exercise, case: Case, text: str) -> Future[Outcome]:
        """Begins a run; a future that is cancelled need not be. One whose worker died raises BrokenExecutor."""


class OwnCores:
    """This machine's cores. One run more at a time than there are, since each has to be set up and read before and
    after it takes one. If it `gives_way` to whoever waits at the screen, one core less than there are, by processes of
    their own to which all others go first: threads would hold up the one that paints."""

    def __init__(self, jobs: int | None, leave: Leave | None, gives_way: bool = False) -> None:
        cores = os.cpu_count() or 1
        self._jobs = jobs or (max(cores - 1, 1) if gives_way else cores + 1)
        self._leave, self._gives_way = leave, gives_way
        self._pool = self._new_pool()

    def _new_pool(self) -> Executor:
        if not self._gives_way:
            return ThreadPoolExecutor(self._jobs)
        return ProcessPoolExecutor(self._jobs, multiprocessing.get_context("spawn"), _begin_worker)

    def submit(self, exercise: Exercise, case: Case, text: str) -> Future[Outcome]:
        """Begins a run, confined by what it may reach."""
        try:
            return self._pool.submit(run_case, exercise, case, text, self._leave)
        except BrokenExecutor:
            self._pool = self._new_pool()
            return self._pool.submit(run_case, exercise, case, text, self._leave)

    def close(self) -> None:
        """Those that have not begun never do."""
        self._pool.shutdown(cancel_futures=True)


def _begin_worker() -> None:
    """A worker gives way to all else, and shows nothing of itself to what it runs."""
    os.nice(_LAST)
    hide_from_programs()


def own_cores(jobs: int | None, leave: Leave | None, gives_way: bool = False) -> AbstractContextManager[OwnCores]:
    """Workers on this machine, until they are let go."""
    return closing(OwnCores(jobs, leave, gives_way))


def judge_class(
    exercise: Exercise,
    hand_ins: Sequence[HandIn],
    workers: Workers,
    kept: KeptOutcomes,
    progress: Progress | None = None,
    judged: Callable[[Judged], None] = lambda _its: None,
) -> list[Judged]:
    """Runs all cases of each; those known so far, in the order given, when the person has enough. `judged` is called
    with each as soon as all of its cases have been run. Raises OSError."""
    runs = _Runs(exercise, workers, kept)
    told = _Told(exercise, hand_ins, judged)
    runs = _Runs(exercise, workers, kept)
    waiting = deque((case, text) for text in told.texts for case in exercise.cases)
    total = max(len(waiting), 1)
    while waiting or runs.on_their_way:
        while waiting and len(runs.on_their_way) < _AHEAD:
            runs.begin(*waiting.popleft())
        for text, outcome in runs.take():
            told.take(text, outcome)
        if progress is not None and not progress.goes_on(1 - (len(waiting) + len(runs.on_their_way)) / total):
            runs.give_up()
            break
    return told.all()


class _Runs:
    """Those on their way, and what has come back without a run."""

    def __init__(self, exercise: Exercise, workers: Workers, kept: KeptOutcomes) -> None:
        self._exercise, self._workers, self._kept, self._files = exercise, workers, kept, files_key(exercise)
        self._known: list[tuple[str, Outcome]] = []
        self.on_their_way: dict[Future[Outcome], _Run] = {}

    def begin(self, case: Case, text: str) -> None:
        key = kept_key(self._files, case, text)
        before = self._kept.get(key)
        if before is not None:
            self._known.append((text, before))
        else:
            self._send(_Run(case, text, key))

    def _send(self, run: _Run) -> None:
        self.on_their_way[self._workers.submit(self._exercise, run.case, run.text)] = run

    def take(self) -> list[tuple[str, Outcome]]:
        """What has come back, as (text, outcome); waits for one of those on their way where nothing has."""
        known, self._known = self._known, []
        if self.on_their_way and not known:
            done, _ = wait(self.on_their_way, return_when=FIRST_COMPLETED)
            for its in done:
                run = self.on_their_way.pop(its)
                outcome = self._outcome(its, run)
                if outcome is not None:
                    known.append((run.text, outcome))
                    self._kept.put(run.key, outcome)
        return known

    def _outcome(self, its: Future[Outcome], run: _Run) -> Outcome | None:
        """What came of a run; None where its worker died, and it is begun again."""
        try:
            return its.result()
        except BrokenExecutor:
            if run.tries == _MOST_TRIES:
                return outcome_of(Result(run.case.name, "cannot run", "Whoever ran it ended before it did."))
            self._send(replace(run, tries=run.tries + 1))
            return None

    def give_up(self) -> None:
        for its in self.on_their_way:
            its.cancel()


@dataclass(frozen=True)
class _Run:
    """A run on its way, the key by which its outcome is kept, and how often it was begun."""

    case: Case
    text: str
    key: str
    tries: int = 1


class _Told:
    """Tells of each hand-in once, when all is known of it."""

    def __init__(self, exercise: Exercise, hand_ins: Sequence[HandIn], judged: Callable[[Judged], None]) -> None:
        self._exercise, self._hand_ins, self._judged = exercise, hand_ins, judged
        self._known: dict[HandIn, Judged] = {}
        self._outcomes: dict[str, dict[str, Outcome]] = {}
        self.texts: dict[str, list[HandIn]] = {}
        for its in hand_ins:
            if its.trouble or not exercise.cases:
                self._tell(its, not_run(exercise, its.trouble))
            else:
                self.texts.setdefault(its.text, []).append(its)

    def take(self, text: str, outcome: Outcome) -> None:
        """A case of a text has been run."""
        known = self._outcomes.setdefault(text, {})
        known[outcome.case] = outcome
        if len(known) == len(self._exercise.cases):
            for its in self.texts[text]:
                self._tell(its, tuple(known[case.name] for case in self._exercise.cases))

    def _tell(self, its: HandIn, outcomes: tuple[Outcome, ...]) -> None:
        self._known[its] = Judged(its, outcomes)
        self._judged(self._known[its])

    def all(self) -> list[Judged]:
        """Those of which all is known, in the order in which they were handed in."""
        return [self._known[its] for its in self._hand_ins if its in self._known]
