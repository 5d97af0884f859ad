"""Special methods called by their names, as any method may be."""
levels = list(range(40))
levels.insert(0, 5)
levels[:] = [x if x % 9 else -x for x in levels] + [1, 2, 3]
print(len(levels))
levels.__init__([x if x % 7 else -x - 1 for x in levels] + [1, 2, 3])
levels.__init__([x if x % 11 else -x - 1 for x in levels][:-4])
print(len(levels))
class Tag:
    def __init__(self):
        self.n = 1
    def put(self, v):
        self.__setattr__("n", v)
        self.__dict__["m"] = v
tag = Tag()
tag.put(4)
tag.__setattr__("n", 5)
tag.__delattr__("m")
tag.__init__()
d = {"a": 1}
d.__init__({"b": 2}, c=3)
d.__setitem__("a", 5)
d.__delitem__("b")
d.__ior__({"z": 1})
s = {1}
s.__init__([4, 5])
s.__ior__({9})
levels.__iadd__([7])
levels.__setitem__(0, 3)
levels.__delitem__(1)
print(d, s)
