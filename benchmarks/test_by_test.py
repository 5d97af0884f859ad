"""Test suites of others as a judge: each bare and through the recorder, their outcomes compared test by test."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from concurrent.futures import ThreadPoolExecutor
from typing import NamedTuple

from benchmarks.measure import machine

#: So many differences of one suite are printed.
_MOST_SHOWN = 12


class Verdict(NamedTuple):
    """A suite's name, how many tests it has, and what differs."""

    title: str
    tests: int
    differing: list[str]


def differences(bare: Mapping[str, str], ours: Mapping[str, str]) -> list[str]:
    """The tests with another outcome when recorded."""
    return [
        f"{test}: {bare.get(test, 'absent')} bare, {ours.get(test, 'absent')} recorded"
        for test in sorted({**bare, **ours})
        if bare.get(test) != ours.get(test)
    ]


def judged(suites: Iterable[str], judge: Callable[[str], Verdict | None], what: str) -> int:
    """Judges suites, two at a time, and prints each verdict; None is for one that cannot be judged here. Gives the
    number of those that differ."""
    print(machine())
    verdicts = []
    with ThreadPoolExecutor(2) as pool:
        for its in pool.map(judge, suites):
            if its is None:
                continue
            verdicts.append(its)
            told = f"{len(its.differing)} differ" if its.differing else "alike"
            print(f"{its.title}: {its.tests} tests, {told}", flush=True)
            for line in its.differing[:_MOST_SHOWN]:
                print("   ", line)
    wrong = sum(bool(its.differing) for its in verdicts)
    print(f"{len(verdicts)} {what} with {sum(its.tests for its in verdicts):,} tests: {wrong} differ")
    return wrong
