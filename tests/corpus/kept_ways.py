import random
from collections import Counter, OrderedDict, deque
from functools import partial

rng = random.Random(5)
rows = list(range(30))
add, take, first = rows.append, rows.pop, partial(rows.insert, 0)
add(1)
last = take()
list(map(add, [7, 8]))
list(map(take, [0, 0]))
first(99)
list(map(lambda n: take(), range(3)))
queue = deque(range(20))
join, leave = queue.append, queue.popleft
join(5)
gone = leave()
list(map(join, "ab"))
front = queue.appendleft
front(0)
list(map(front, [1, 2]))
leave()
sites = {n: n for n in range(20)}
give, lose = sites.setdefault, sites.pop
give(30, "new")
give(30, "not")
sites[31] = give(32, 1)
list(map(give, [33, 33], [2, 3]))
sites["b"] = list(map(give, ["a"], [1]))
sites["d"] = sites.update(c=3)
sites["d"] = list(map(give, ["e", "f"], [1, 2]))
lose(0)
list(map(lose, [1, 2]))
del sites[3]
seen = set(range(70))
note = seen.add
note(100)
note(100)
list(map(note, [101, 102]))
seen.update({200}, [5])
tally = Counter({n: n for n in range(30)})
tally.update([1, 1, 50])
tally[60] += 2
tally.update({2: 5, 70: 1})
tally.subtract([1])


class Log(list):
    def append(self, entry):
        super().append((len(self), entry))


class Book(dict):
    def __setitem__(self, key, value):
        super().__setitem__(key, value)
        self.last = key

    def __delitem__(self, key):
        super().__delitem__(key)


class Tags(set):
    def add(self, tag):
        super().add(tag)
        return self


class Bag:
    def __init__(self):
        self.things = list(range(20))
        self.pop = self.things.pop

    def add(self, thing):
        self.things.append(thing)

    def remove(self, thing):
        self.things.remove(thing)
        return thing


log, book, tags, bag = Log(range(20)), Book({n: n for n in range(20)}), Tags(range(70)), Bag()
for n in range(4):
    log.append(n)
    book[n + 18] = n
    tags.add(n + 68)
    bag.add(n)
    bag.remove(n)
    bag.pop()
    drawn = rng.choice(rows) + random.randint(1, 1)
    shown = sorted(bag.__dict__)
    bag.weight = n
del book[4]
book.update({1: "one", 90: 2})
fields = vars(bag)
bag.weight = 10
fields["depth"] = 4
later = fields
large = {n: n for n in range(40)}
large.update({40: 1})
large["z"] = large.update({"y": 2})
large[1], large["x"] = 5, large.update({1: 4, "w": 6})
large.update({})
del large[2]
large[2] = large.update({3: 3, "v": 1})
large.update(u=1)
rng.shuffle(rows)
order = OrderedDict((n, n) for n in range(20))
order.move_to_end(3)
order[3] = 5
order.popitem(last=False)
order.move_to_end(9, last=False)
print(log, book, tags == set(range(72)), sorted(fields), rows, order, tally, sites, queue, large)
