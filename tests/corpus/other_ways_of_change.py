"""Changes that no statement says."""
import random
from functools import cached_property, partial
import operator
class Crab:
    def __init__(self, **facts):
        self.__dict__.update(facts)
    @cached_property
    def size(self):
        return self.width * 2
crab = Crab(width=3)
vars(crab)["tag"] = "mo"
print(crab.size, crab.tag)
crab.__dict__["legs"] = 8
facts = vars(crab)
facts["eyes"] = 2
del facts["tag"]
print(crab.__dict__)
xs = [1]
add = xs.append
add(2)
for number in map(xs.append, [3, 4]):
    last = number
s = [5, 6, 7]
for item in iter(s.pop, 6):
    got = item
acts = {"add": xs.append, "drop": xs.pop, "clear": s.clear}
acts["add"](8)
acts["drop"]()
acts["clear"]()
def apply(function, value):
    function(value)
    return value
apply(xs.append, 10)
print(xs, s)
rng = random.Random(2)
deck = [1, 2, 3, 4, 5]
rng.shuffle(deck)
print(deck)
shuffle = random.shuffle
random.seed(5)
shuffle(deck)
print(deck)
d = {1: "a"}
d[1.0] = "b"
d[True] = "c"
print(d)
d[2.0] = "x"
d[2] = "y"
print(d)
push = partial(xs.append, 11)
push()
operator.setitem(xs, 0, 50)
operator.iadd(xs, [60])
list(map(xs.remove, [2, 3]))
[*map(xs.append, "ab")]
print(xs)
put = d.__setitem__
put("k", 3)
bag = {1, 2}
pick = bag.discard
pick(1)
bag.__ior__({7})
print(d, bag, max(map(len, [xs, s])))
data = bytearray(b"tide")
data.append(33)
data[0] = 84
data += b"?"
grow = data.extend
grow(b"!!")
print(data)
end = 0
