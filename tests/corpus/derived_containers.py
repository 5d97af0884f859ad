"""Classes that derive from containers."""
from collections import UserDict, UserList, OrderedDict, Counter, deque
class Stack(list):
    def __init__(self, items):
        super().__init__(items)
        self.name = "stack"
    def push(self, item):
        self.append(item)
        return self
    def pop_all(self):
        while self:
            super().pop()
class Shelf(dict):
    def __init__(self, **rows):
        super().__init__(rows)
        super().__setitem__("made", 1)
    def put(self, key, value):
        super().update({key: value})
        dict.__setitem__(self, "last", key)
class Tags(set):
    def __init__(self, items):
        set.__init__(self, items)
    def put(self, tag):
        super().add(tag)
class Queue(deque):
    def put(self, item):
        super().append(item)
class Beds(UserList):
    def plant(self, bed):
        self.append(bed)
class Rows(UserDict):
    def put(self, key):
        self[key] = len(self)
stack = Stack([1, 2])
stack.push(3)
stack += [4]
stack[0] = 9
print(stack, stack.name)
stack.pop_all()
shelf = Shelf(a=1)
shelf.put("b", 2)
shelf["c"] = 3
del shelf["a"]
print(shelf)
tags = Tags("ab")
tags.put("c")
tags |= {"d"}
print(sorted(tags))
queue = Queue([1], 3)
queue.put(2)
queue.extend([3, 4])
print(queue.popleft(), queue)
beds = Beds([1])
beds.plant(2)
beds.append(3)
beds[0] = 5
del beds[1]
beds += [8]
print(beds)
rows = Rows()
rows.put("x")
rows["y"] = 4
rows.update(z=1)
rows.pop("x")
print(rows)
order = OrderedDict(a=1)
order["b"] = 2
order.move_to_end("a")
order.popitem(last=False)
print(order)
count = Counter()
for letter in "seagrass":
    count[letter] += 1
count.update("sss")
count["zz"]
count += Counter(q=1)
print(count.most_common(1))
end = 0
