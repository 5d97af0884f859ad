"""Shoots that split: recursion, default arguments, star arguments, early returns, globals."""
calls = 0


def shoots(seasons, per_season=2):
    global calls
    calls += 1
    if seasons == 0:
        return 1
    return per_season * shoots(seasons - 1, per_season) - 1


def tally(first, *rest, step=1, **notes):
    total = first
    for value in rest:
        total += value * step
    if notes:
        return total, notes
    return total


def deepest(bed):
    depth = 0
    for part in bed:
        if isinstance(part, list):
            depth = max(depth, deepest(part))
    return depth + 1


print(shoots(4), shoots(3, per_season=3), calls)
print(tally(1), tally(1, 2, 3, step=10), tally(0, 4, bed="north"))
print(deepest([1, [2, [3, []], 4], [5]]))
