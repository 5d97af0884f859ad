"""Language of Python 3.12: type parameters, `type`, text in text."""
from typing import override
type Level = float
type Table[K, V] = dict[K, list[V]]
class Beds[T]:
    def __init__(self, *its: T) -> None:
        self.its = list(its)
    def first(self) -> T:
        return self.its[0]
    def each[R](self, work) -> list[R]:
        return [work(one) for one in self.its]
class Reef(Beds[str]):
    @override
    def first(self) -> str:
        return f"{super().first()} of {len(self.its)}"
def larger[N: (int, float)](one: N, other: N) -> N:
    unit = "m"
    said = lambda: f"{one if one > other else other}{unit}"
    print(said())
    return max(one, other)
beds = Reef("mud", "sand")
print(beds.first(), beds.each(lambda name: f"{name.upper():>{max(len(it) for it in beds.its)}}"))
print(f"{"nested " + f"{larger(2, 3)!r:>4}"}", f"{'a' 'b'=}")
print(Level.__value__, Table.__type_params__, Beds.__type_params__, larger.__type_params__)
levels = {name: [larger(place, 1) for place in range(2)] for name in beds.its}
class Chart:
    tide = 3
    doubled = [tide * 2 for tide in range(2)]
    names = [place for place in range(2)]
print(levels, Chart.tide, Chart.doubled)
