"""Class bodies: loops, conditions and functions in them, mangled names, inheritance, operators."""
class Base:
    rows = []
    for number in range(3):
        rows.append(number)
    if rows:
        kind = "full"
    else:
        kind = "empty"
    def __init__(self):
        self.__hidden = 1
        self.shown = self.__hidden + 1
    def __add__(self, other):
        return self.shown + other
    def __radd__(self, other):
        return other - self.shown
    def __len__(self):
        return 5
    def __getitem__(self, key):
        if isinstance(key, slice):
            return key.start, key.stop
        if key > 2:
            raise IndexError(key)
        return key * 10
    def __contains__(self, item):
        return item == "crab"
    def __call__(self, *values):
        return len(values)
    def __getattr__(self, name):
        return "no " + name
    def __eq__(self, other):
        return isinstance(other, Base)
    __hash__ = None
class Left(Base):
    def tell(self):
        return ["left", *super().tell()]
class Right(Base):
    def tell(self):
        return ["right"]
Right.tell.note = "ours"
Base.tell = lambda self: ["base"]
class Both(Left, Right):
    kind = Base.kind + "er"
    class Inner:
        deep = "inner"
both = Both()
print(both.tell(), Both.kind, Both.Inner.deep, vars(both), both.missing)
print(both + 1, 10 + both, len(both), both[1], both[1:2], "crab" in both, both(1, 2), list(both), both == Left())
