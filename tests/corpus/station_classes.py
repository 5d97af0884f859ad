"""Classes of many kinds: properties, class and static methods, slots, dataclasses, enumerations, named tuples."""
from collections import namedtuple
from dataclasses import dataclass, field
from enum import Enum


class Stage(Enum):
    SEED = 1
    SHOOT = 2


Site = namedtuple("Site", "name depth")


@dataclass
class Bed:
    site: Site
    stage: Stage = Stage.SEED
    visits: list = field(default_factory=list)

    def visit(self, who):
        self.visits.append(who)
        if len(self.visits) == 2:
            self.stage = Stage.SHOOT
        return self


class Boat:
    __slots__ = ("name", "_load")
    built = 0

    def __init__(self, name):
        self.name = name
        self._load = 0
        type(self).built += 1

    @property
    def load(self):
        return self._load

    @load.setter
    def load(self, value):
        if value < 0:
            raise ValueError("a load is never negative")
        self._load = value

    @classmethod
    def fleet(cls, *names):
        return [cls(name) for name in names]

    @staticmethod
    def fits(number):
        return number <= 8

    def __iadd__(self, number):
        self.load += number
        return self


bed = Bed(Site("reef", 1.5))
bed.visit("Kittiwake").visit("Dunlin")
boats = Boat.fleet("Teal", "Smew")
boats[0] += 5
boats[1].load = boats[0].load + 1
try:
    boats[1].load = -1
except ValueError as problem:
    print("refused:", problem)
del bed.visits[0]
print(bed.stage.name, bed.visits, Boat.built, Boat.fits(9), [boat.load for boat in boats], bed.site.depth)
