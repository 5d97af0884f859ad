from collections import deque
seen = set(range(80))
shoots = {f"k{n}": n for n in range(30)}
line = deque(range(20))
adding, dropping = seen.add, seen.discard
putting, popping, ending = shoots.setdefault, shoots.pop, shoots.popitem
leaving = line.popleft
