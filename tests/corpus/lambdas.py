"""Lambdas: keys, defaults, closures, and ones that fail."""
crabs = [("Ada", 4), ("Bo", 2), ("Cyd", 9)]
print(sorted(crabs, key=lambda crab: crab[1]), max(crabs, key=lambda crab: len(crab[0]))[0])
adders = [lambda weight, extra=extra: weight + extra for extra in range(3)]
print([add(10) for add in adders])
late = [lambda: number for number in range(2)]
print([call() for call in late])
weigh = lambda *parts, **more: (sum(parts), sorted(more))
print(weigh(1, 2, rope=1))
depth = lambda left: 0 if left == 0 else 1 + depth(left - 1)
print(depth(3))
broken = lambda weight: weight / 0
def careful(call):
    try:
        return call(4)
    except ZeroDivisionError:
        return "broken"
print(careful(broken), careful(lambda weight: broken(weight)))
class Scale:
    read = property(lambda self: 7)
print(Scale().read, hasattr(type("Odd", (), {"tag": property(lambda self: self.none)})(), "tag"))
