"""Dataclasses, named tuples and enumerations."""
from collections import namedtuple
from dataclasses import dataclass, field, replace
from enum import Enum, auto
@dataclass
class Seed:
    name: str
    count: int = 0
    marks: list = field(default_factory=list)
    def __post_init__(self):
        self.marks.append(self.count)
@dataclass(frozen=True, order=True)
class Lot:
    year: int
    place: str
class Bay(Enum):
    NORTH = auto()
    SOUTH = auto()
    @property
    def short(self):
        return self.name[0]
seed = Seed("zostera", 4)
seed.count += 1
other = replace(seed, name="ruppia")
print(seed, other, other.marks is seed.marks)
try:
    Lot(3, "reef").year = 5
except AttributeError as wrong:
    print(type(wrong).__name__)
print(sorted([Lot(2, "mud"), Lot(1, "reef")]), Bay.NORTH.short, Bay["SOUTH"].value)
Berth = namedtuple("Berth", "row place", defaults=[1])
berth = Berth(4)
print(berth, berth._replace(place=3), berth.row)
