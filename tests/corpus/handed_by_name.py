"""What is handed over by name."""
import bisect, heapq, random
rows = [1, 5, 9]
bisect.insort(a=rows, x=4)
bisect.insort_left(rows, x=3)
class Box:
    def __init__(self):
        self.rows = [3, 1]
box = Box()
bisect.insort(a=box.rows, x=2)
rng = random.Random(1)
rng.shuffle(x=rows)
def far(*more, **named):
    return heapq.heappush(named["heap"], 7)
far(heap=rows)
print(rows, box.rows)
end = 0
