"""Lists that change at their front and in the middle, deques, heaps, orders of their own, and keys of many types."""

import bisect
import heapq
import random
from collections import OrderedDict, deque
from dataclasses import dataclass
from heapq import heappush as put


@dataclass(frozen=True)
class Square:
    row: int
    column: int


class Buoy:
    pass


class Queue(list):
    def leave(self):
        return self.pop(0)

    def append(self, boat):
        super().append(boat)
        self.last = boat


boats = [number * 3 for number in range(40)]
while len(boats) > 30:
    boats.pop(0)
    boats.pop(3)
    boats.append(len(boats))
boats.insert(0, "first")
boats.insert(-3, "late")
boats.insert(99, "last")
boats.insert(len(boats) // 2, "middle")
boats.remove("middle")
del boats[4], boats[-2]
boats[2:5] = []
boats[3:3] = ["a", "b"]
boats[::9] = [None] * len(boats[::9])
boats += [1, 2]
boats *= 2
boats.extend(reversed(boats[:3]))
boats[1] += 0
boats.reverse()
boats.sort(key=str)

ferry = deque(range(20), 20)
for turn in range(3):
    ferry.append(turn)
    ferry.appendleft(-turn)
    ferry.rotate(turn - 1)
ferry.extend([7, 8])
ferry.extendleft("xy")
ferry.popleft()
ferry.insert(5, "in between")
ferry.remove("in between")
ferry[3] = ferry[-1]
del ferry[2]
ferry.rotate(-7)

tides = []
for level in random.Random(4).choices(range(12), k=40):
    heapq.heappush(tides, level)
put(tides, 5)
low = heapq.heappop(tides)
low = heapq.heapreplace(tides, 30)
low = heapq.heappushpop(tides, -1)
while len(tides) > 25:
    low = heapq.heappop(tides)
heapq.heapify(tides)
bisect.insort(tides, 4)
flat = [1.5] * 30
heapq.heapify(flat)
heapq.heappop(flat)
heapq.heappush(flat, flat[3])
random.Random(1).shuffle(tides)

order = OrderedDict((name, len(name)) for name in ("mud", "reef", "sand"))
order.move_to_end("mud")
order.move_to_end("sand", last=False)
order["new"] = 1
order.popitem(last=False)
order["sand"] = 2
del order["reef"]
order["reef"] = 3
order.pop("mud")

squares = {Square(number, number) for number in range(70)}
squares.add(Square(1, 1))
squares.add(Square(1, 2))
squares.discard(Square(69, 69))
buoy = Buoy()
marked = {buoy}
for number in range(70):
    marked.add(number + 0.5)
marked.add(buoy)
marked.remove(buoy)
visits = {}
for number in range(20):
    visits[Square(number % 7, 0)] = number
    visits[number / 2] = number
visits.pop(Square(3, 0))
visits[1] = "one"
visits[True] = "still one"
visits.popitem()

queue = Queue("abcdefghijklmnopqrst")
queue.append("u")
queue.leave()
queue.insert(3, "v")
queue.sort(reverse=True)
print(len(boats), list(ferry), tides, list(order), len(squares), len(marked), len(visits), queue, queue.last)
