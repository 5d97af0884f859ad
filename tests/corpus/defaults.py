"""Default values: shared ones, keyword-only ones, worked out when the function is made."""
def log(mark, marks=[]):
    marks.append(mark)
    return marks
print(log(1), log(2), log(3, []), log(4))
start = 5
def tide(level=start, *, rate=lambda: start):
    return level, rate()
start = 9
print(tide(), tide(1, rate=lambda: 2), tide.__defaults__)
def walk(path=None, seen=None):
    seen = seen or set()
    if path in seen:
        return sorted(seen)
    seen.add(path or "pier")
    return walk("pier", seen)
print(walk())
def annotated(crab: "Crab", *rest: int, legs: int = 8) -> list[int]:
    weight: float = 1.5
    name: str
    return [weight, legs, *rest]
print(annotated(None, 2), annotated.__annotations__)
