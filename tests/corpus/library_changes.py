"""What libraries and built-in functions change in what they are handed."""
import bisect
import heapq
import random
from collections import Counter, OrderedDict, defaultdict, deque
rows = [5, 2, 9, 1]
heapq.heapify(rows)
heapq.heappush(rows, 0)
print(heapq.heappop(rows), rows)
bisect.insort(rows, 6)
random.seed(4)
random.shuffle(rows)
rows.sort(key=lambda value: -value)
print(rows)
queue = deque([1, 2, 3], maxlen=4)
queue.rotate(1)
queue.appendleft(7)
queue.append(8)
print(queue.popleft(), list(queue))
groups = defaultdict(list)
for name in ["reef", "mud", "ray"]:
    groups[name[0]].append(name)
probe = groups["z"]
print(dict(groups))
counts = Counter("seagrass")
counts.update("sea")
counts.subtract({"s": 2})
print(counts.most_common(2))
order = OrderedDict(a=1, b=2)
order.move_to_end("a")
print(list(order))
class Boat:
    berth = 0
boat = Boat()
setattr(boat, "berth", 4)
boat.crew = ["Wren"]
list.append(boat.crew, "Finn")
print(vars(boat))
