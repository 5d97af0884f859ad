"""Hand-ins grouped by what they do: those with the same results, by the same outputs and failures, on all cases."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from eelgrass.lessons.class_sets.class_runs import Judged
from eelgrass.lessons.class_sets.hand_ins import HandIn
from eelgrass.lessons.class_sets.normal_form import normal_form
from eelgrass.lessons.class_sets.outcomes import behaviour_of, digest


@dataclass(frozen=True)
class Group:
    """Hand-ins that do the same: `key` stands for what they do, `name` says it in a sentence. Its `members`, the
    `typical` one (the smallest), and, by case in a word, what came of it."""

    key: str
    name: str
    members: tuple[Judged, ...]
    typical: Judged
    results: dict[str, str]

    @property
    def passes(self) -> bool:
        """Whether every case is passed."""
        return all(its == "passed" for its in self.results.values())

    @property
    def names(self) -> list[str]:
        """Whose hand-ins are in it, as they came."""
        return [its.hand_in.name for its in self.members]


def grouped(judged: Iterable[Judged]) -> list[Group]:
    """The groups, the largest first, and of as many the one that came first."""
    found: dict[str, list[Judged]] = {}
    for its in judged:
        found.setdefault(digest(behaviour_of(its.outcomes), *its.hand_in.marked), []).append(its)
    return sorted((group_of(key, members) for key, members in found.items()), key=lambda its: -len(its.members))


def group_of(key: str, members: Sequence[Judged]) -> Group:
    """The group of these hand-ins."""
    typical = min(members, key=lambda its: (len(its.hand_in.text), its.hand_in.name))
    failed = next((its for its in typical.outcomes if its.word != "passed"), None)
    name = "It passes every case." if failed is None else f"{failed.case}: {failed.why}"
    if typical.hand_in.marked:
        name += f" Marked as faulty: {', '.join(map(_marked, typical.hand_in.marked))}."
    return Group(key, name, tuple(members), typical, {its.case: its.word for its in typical.outcomes})


def _marked(line: str) -> str:
    """A marked line in words."""
    file, _, number = line.rpartition(" ")
    return f"line {number} of {file}" if file else f"line {number}"


def same_texts(hand_ins: Iterable[HandIn]) -> list[list[str]]:
    """The names of those whose programs are the same but for names and layout, where there are several, the most
    first. Nothing follows from it: small programs come out alike."""
    found: dict[str, list[str]] = {}
    for its in hand_ins:
        form = "" if its.trouble else normal_form(its.text)
        if form:
            found.setdefault(form, []).append(its.name)
    return sorted((its for its in found.values() if len(its) > 1), key=len, reverse=True)


def as_given(hand_ins: Iterable[HandIn], given: str) -> list[str]:
    """The names of those who handed in the program as it was given, but for names and layout."""
    form = normal_form(given)
    return [its.name for its in hand_ins if form and not its.trouble and normal_form(its.text) == form]
