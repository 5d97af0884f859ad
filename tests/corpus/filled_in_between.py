# Containers that C fills while generators and functions of the program run.
from collections import deque
class Box:
    pass
def wet(n):
    for i in range(n):
        yield i
        len(xs)
def pairs(n):
    for i in range(n):
        yield i, [i]
def double(n):
    y = n * 2
    return y
xs = [9]
xs.extend(wet(3))
xs += wet(2)
d = {}
d.update(pairs(4))
q = deque()
q.extend(wet(3))
q.extendleft(map(double, [1, 2]))
box = Box()
box.rows = []
box.rows.extend(map(double, range(4)))
names = ["b", "a"]
names.sort(key=double)
xs[1:2] = wet(3)
s = set()
s.update(wet(4))
s |= {double(3)}
z = {n: double(n) for n in range(3)}
xs.extend([double(1), double(2)])
xs.insert(0, double(4))
xs.append(double(5))
def flat(t):
    out = []
    for x in t:
        if isinstance(x, list):
            out.extend(flat(x))
        else:
            out.append(x)
    return out
print(flat([1, [2, [3]], 4]))
