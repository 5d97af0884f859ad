"""Containers that C fills while generators and functions of the program run."""
from collections import deque
class Shelf:
    pass
def wet(n):
    for i in range(n):
        yield i
        len(levels)
def pairs(n):
    for i in range(n):
        yield i, [i]
def double(n):
    y = n * 2
    return y
levels = [9]
levels.extend(wet(3))
levels += wet(2)
counts = {}
counts.update(pairs(4))
queue = deque()
queue.extend(wet(3))
queue.extendleft(map(double, [1, 2]))
shelf = Shelf()
shelf.rows = []
shelf.rows.extend(map(double, range(4)))
names = ["b", "a"]
names.sort(key=double)
levels[1:2] = wet(3)
tags = set()
tags.update(wet(4))
tags |= {double(3)}
doubles = {n: double(n) for n in range(3)}
levels.extend([double(1), double(2)])
levels.insert(0, double(4))
levels.append(double(5))
def flat(t):
    out = []
    for x in t:
        if isinstance(x, list):
            out.extend(flat(x))
        else:
            out.append(x)
    return out
print(flat([1, [2, [3]], 4]))
