"""Recursion: mutual, through lists and dictionaries, into a tree of objects."""
def even(count):
    return True if count == 0 else odd(count - 1)
def odd(count):
    return False if count == 0 else even(count - 1)
def flatten(rows):
    flat = []
    for row in rows:
        if isinstance(row, list):
            flat.extend(flatten(row))
        else:
            flat.append(row)
    return flat
class Channel:
    def __init__(self, name, *branches):
        self.name = name
        self.branches = list(branches)
        self.parent = None
        for branch in branches:
            branch.parent = self
    def deepest(self):
        return 1 + max([branch.deepest() for branch in self.branches], default=0)
    def path(self):
        return (self.parent.path() if self.parent else []) + [self.name]
creek = Channel("creek")
bay = Channel("bay", Channel("north", creek), Channel("south"))
print(even(6), flatten([1, [2, [3, []]], 4]), bay.deepest(), creek.path())
def turns(names):
    if not names:
        return [[]]
    return [[name, *rest] for name in names for rest in turns([other for other in names if other != name])]
print(turns(["a", "b", "c"]))
def permute(names, done=()):
    if not names:
        yield done
    for place, name in enumerate(names):
        yield from permute(names[:place] + names[place + 1 :], (*done, name))
print(list(permute("xy")))
