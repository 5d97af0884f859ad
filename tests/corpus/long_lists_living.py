"""A text that speaks of how long objects live."""
import gc, weakref
def make(first):
    return [first + number for number in range(60)]
for first in (0, 1000, 5000):
    rows = make(first)
    total = sum(rows)
    print(total)
    rows = None
    gc.collect()
def inner(first):
    its = make(first)
    name = [first]
    size = len(its)
    return size
print(inner(1) + inner(300) + inner(700))
big = {number: number for number in range(50)}
big = {number: -number for number in range(50)}
keep = set(range(45))
keep = set(range(100, 145))
keep.add(7)
print(len(big), len(keep))
long = make(3)
long.append(5)
long[40] = 6
long.pop(0)
alias = [long]
long.insert(2, 9)
print(alias[0][:4])
end = 0
