"""What an instructor decides about a class set: names of groups, which belong together, comments, points."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from pathlib import Path

import msgspec

from eelgrass.errors import EelgrassError
from eelgrass.lessons.class_sets.class_runs import Judged
from eelgrass.lessons.class_sets.grouping import Group, group_of

MOST_BYTES = 16 << 20


class DecisionsError(EelgrassError):
    """Decisions that cannot be read; the message is a sentence for the person."""


class GroupDecision(msgspec.Struct, frozen=True, omit_defaults=True):
    """What is decided about a group; '' and None where nothing is."""

    name: str = ""
    comment: str = ""
    points: float | None = None


class Decisions(msgspec.Struct, frozen=True, omit_defaults=True):
    """By a group's key, what is decided about it; the group into which another one was `merged`; by the name of a
    hand-in, the group of its own that it was `parted` into."""

    groups: dict[str, GroupDecision] = {}
    merged: dict[str, str] = {}
    parted: dict[str, str] = {}

    def of(self, key: str) -> GroupDecision:
        """What is decided about a group."""
        return self.groups.get(key, GroupDecision())

    def arranges_as(self, other: Decisions) -> bool:
        """Whether groups are the same, by the same names, whatever is said to those in them."""
        names = [{key: its.name for key, its in one.groups.items() if its.name} for one in (self, other)]
        return names[0] == names[1] and (self.merged, self.parted) == (other.merged, other.parted)

    def with_group(self, key: str, **changes: object) -> Decisions:
        """The same with another name, comment or points of a group."""
        its = msgspec.structs.replace(self.of(key), **changes)
        return msgspec.structs.replace(self, groups={**self.groups, key: its})

    def with_merged(self, keys: Iterable[str], into: str) -> Decisions:
        """The same with some groups as parts of another."""
        moved = {*keys} - {into}
        merged = {key: into if target in moved else target for key, target in self.merged.items()}
        merged = {**merged, **dict.fromkeys(moved, into)}
        merged.pop(into, None)
        parted = {name: into if target in moved else target for name, target in self.parted.items()}
        return msgspec.structs.replace(self, merged=merged, parted=parted)

    def with_parted(self, names: Iterable[str], key: str) -> Decisions:
        """The same with some hand-ins, by name, as a group of their own."""
        return self.with_keys(dict.fromkeys(names, key))

    def with_keys(self, keys: dict[str, str]) -> Decisions:
        """The same with some hand-ins, by name, in the groups of these keys."""
        return msgspec.structs.replace(self, parted={**self.parted, **keys})

    def without_moves(self) -> Decisions:
        """The same with all groups as they were found."""
        return msgspec.structs.replace(self, merged={}, parted={})


def arranged(groups: Iterable[Group], decisions: Decisions) -> list[Group]:
    """The groups as the instructor wants them, the largest first."""
    found: dict[str, list[Judged]] = {}
    names: dict[str, str] = {}
    for group in groups:
        names[group.key] = group.name
        for its in group.members:
            key = decisions.parted.get(its.hand_in.name, decisions.merged.get(group.key, group.key))
            found.setdefault(key, []).append(its)
    made = (group_of(key, members) for key, members in found.items())
    named = [replace(its, name=decisions.of(its.key).name or names.get(its.key, its.name)) for its in made]
    return sorted(named, key=lambda its: -len(its.members))


def points_words(points: float | None) -> str:
    """Points as people write them; '' for none."""
    return "" if points is None else f"{points:g}"


def load(path: Path) -> Decisions:
    """Decisions from their file; none where there is no file. Raises DecisionsError and OSError."""
    try:
        with path.open("rb") as file:
            data = file.read(MOST_BYTES + 1)
    except FileNotFoundError:
        return Decisions()
    return decoded(data, path.name)


def decoded(data: bytes, name: str) -> Decisions:
    """Decisions from the bytes of a file. Raises DecisionsError."""
    if len(data) > MOST_BYTES:
        raise DecisionsError(f"“{name}” is too large to hold what was decided about a class set.")
    try:
        return msgspec.json.decode(data, type=Decisions)
    except (msgspec.DecodeError, RecursionError) as error:
        raise DecisionsError(f"“{name}” does not hold what was decided about a class set.") from error


def encoded(decisions: Decisions) -> bytes:
    """The bytes of their file."""
    return msgspec.json.format(msgspec.json.encode(decisions), indent=1)
