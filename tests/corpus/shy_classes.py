"""Nothing of what a class defines runs unless the program itself asks for it."""
from collections import UserList, defaultdict, deque
def never(*_arguments, **_named):
    raise SystemError("somebody looked")
NAMES = ("eq", "ne", "hash", "len", "iter", "getitem", "contains", "repr", "str", "bool", "getattr", "lt", "reversed", "missing", "length_hint", "index", "sizeof", "dir", "format", "call", "get")
methods = {f"__{name}__": never for name in NAMES}
class Shy:
    pass
for base, title in ((object, "Shy"), (list, "ShyList"), (dict, "ShyDict"), (set, "ShySet"), (deque, "ShyQueue"), (tuple, "ShyPair")):
    globals()[title] = type(title, (base,), methods)
one, row, table, bag, line, pair = Shy(), ShyList([1, 2]), ShyDict(a=1), ShySet([3]), ShyQueue([4]), ShyPair((5, 6))
hidden = [one, row, table, bag, line, pair]
rows = [*hidden] * 5
for number in range(30):
    rows.append(one)
    rows.append(number)
rows.insert(0, one)
rows.pop(3)
rows[2] = bag
rows.reverse()
row.append(one)
list.append(row, table)
row += [one]
row[0] = one
del row[1]
table["b"] = one
table.update(c=row)
dict.pop(table, "a")
bag.add(4)
bag |= {5}
bag.discard(3)
line.append(one)
line.popleft()
one.field = row
one.field.append(bag)
add = row.append
add(line)
list(map(rows.append, hidden))
vars(one)["late"] = table
setattr(one, "later", pair)
groups = defaultdict(list)
groups["k"].append(one)
kept = {"k": one, 1: row}
kept[1] = table
kept.pop("k")
(one, row)[1].append(pair)
def hand(thing, *more):
    thing.field = more
    return thing
hand(one, row, bag).field[0].append(3)
try:
    row.extend(hand(one, number) for number in never())
except SystemError as error:
    print(error)
try:
    pair[0] += [1]
except SystemError as error:
    print(error)
print(list.__len__(row), dict.__len__(table), set.__len__(bag), len(rows))
