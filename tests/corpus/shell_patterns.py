"""Matching, walrus, star targets, conditional expressions, chained comparison, formatted text, assertion."""


def kind_of(thing):
    match thing:
        case []:
            return "empty"
        case [only]:
            return f"one {only}"
        case [first, *others] if first == 0:
            return f"zero and {len(others)}"
        case {"shell": shell, **others}:
            return f"{shell} with {sorted(others)}"
        case str() | int() as plain:
            return f"plain {plain!r}"
        case _:
            return "other"


kinds = []
for thing in ([], [3], [0, 1, 2], {"shell": "cockle", "size": 2}, "mud", 7, None):
    kinds.append(kind_of(thing))
numbers = [4, 8, 15]
head, *middle, tail = numbers + [16, 23]
[(left, right), *_] = [(1, 2), (3, 4)]
while (last := numbers.pop()) > 4:
    size = "large" if last > 10 else "small"
    assert 0 < last < 20, last
else:
    size = "none"
total: int = 0
total += sum(middle) * -1
label = f"{left}-{right}:{total:+06.1f} {size!s:>6}"
del left, middle[0]
try:
    assert not numbers, "numbers are left"
except AssertionError as reason:
    kinds += [str(reason)]
print(kinds, head, middle, tail, label, numbers)
