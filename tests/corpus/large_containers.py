"""Larger containers that change by one at a time."""
import heapq
from collections import Counter, defaultdict, deque
tags = set()
for number in range(200):
    tags.add(number * 7 % 150)
tags.discard(3)
tags.remove(7)
gone = tags.pop()
tags.add("mo")
tags.add(5.0)
tags.add(5)
tags -= {9, 10}
heap = []
for number in range(60):
    heapq.heappush(heap, number * 37 % 61)
heap[5] = 99
heap.append(3)
heapq.heapify(heap)
while len(heap) > 20:
    least = heapq.heappop(heap)
counts = defaultdict(int)
for word in ["reef", "mud"] * 20 + list(range(30)):
    counts[word] += 1
    seen = counts["never" + str(word)]
tally = Counter()
for letter in "seagrass meadows":
    tally[letter] += 1
queue = deque()
for number in range(40):
    queue.append(number)
    if number % 3 == 0:
        first = queue.popleft()
known = {}
for number in range(50):
    known.setdefault(number % 20, []).append(number)
    known.pop(number - 15, None)
rows = list(range(40))
rows.insert(3, "x")
rows.pop(0)
rows[10:12] = ["a", "b", "c"]
rows.remove(30)
rows.sort(key=str)
del rows[4]
while rows:
    rows.pop(0)
print(len(tags), heap, least, dict(tally), len(queue), known)
end = 0
