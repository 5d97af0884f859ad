"""Elements that `+=` changes in place, in what derives from dictionaries and in queues."""
from collections import defaultdict, deque, OrderedDict
counts = defaultdict(list)
for turn in range(3):
    counts["n"] += [turn]
    counts[2] += [turn]
    counts[(1, 2)] += "ab"
queue = deque([[1], [2]])
queue[0] += [3]
order = OrderedDict(a=[1])
order["a"] += [2]
class Shelf(dict):
    pass
shelf = Shelf(k=[0])
shelf["k"] += (1,)
mixed = {1.0: [1]}
mixed[1] += [2]
print(dict(counts), queue, order, shelf, mixed)
end = 0
