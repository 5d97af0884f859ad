"""What a clue is, what shows it, and what a kind of clue has to say about itself."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Protocol

if TYPE_CHECKING:
    from eelgrass.reading.clues.facts import Facts

#: From here on a clue is shown at once; below, it is folded away.
LIKELY = 0.5
#: The strength of what can be meant so as well as not.
EITHER_WAY = 0.3


class Check(Protocol):
    """Something that the recording has to say for a piece of evidence to stand."""

    def holds(self, facts: Facts) -> bool:
        """Whether the recording says so."""
        ...


@dataclass(frozen=True)
class Evidence:
    """A moment of the run (`step`), what is to be seen there, and the checks that it is so."""

    step: int
    text: str
    checks: tuple[Check, ...] = ()


@dataclass(frozen=True)
class Sighting:
    """One case of a kind in a run: the statement that it is about, the strength of its evidence (0 to 1), what stands
    in the places of the kind's sentence, and the evidence in order of time."""

    statement: int
    strength: float
    places: Mapping[str, object]
    evidence: tuple[Evidence, ...]


@dataclass(frozen=True)
class Kind:
    """A kind of clue: its id, a title, its sentence with places for names and values, the evidence in the run that
    it needs, what makes it stronger or weaker, and two programs that look alike: a faulty one, and its sound twin, of
    which the kind has nothing to say. The faulty line of the first ends in `#!`."""

    id: str
    title: str
    sentence: str
    needs: str
    strength: str
    faulty: str
    twin: str
    find: Callable[[Facts], Iterator[Sighting]]
    #: Lines that are typed into both programs.
    typed: tuple[str, ...] = ()
    #: Whether the run alone shows it; else it is told only where somebody knows what is wrong with the run.
    is_seen_alone: bool = True


@dataclass(frozen=True)
class Clue:
    """A sighting in words: the file and line that it is about, by its statement, and the evidence."""

    kind: str
    file: str
    line: int
    strength: float
    text: str
    evidence: tuple[Evidence, ...]
    statement: int
    is_seen_alone: bool = True

    @property
    def step(self) -> int | None:
        """The step that shows it first."""
        return self.evidence[0].step if self.evidence else None
