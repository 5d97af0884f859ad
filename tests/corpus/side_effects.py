"""Augmented assignment on parts with side effects: each worked out once, in order."""
def told(name, value):
    print(name)
    return value
beds = [1, [2, 3]]
beds[told("index", 0)] += told("value", 4)
told("owner", beds)[told("first", 1)][told("second", -1)] *= told("by", 5)
print(beds)
class Crab:
    def __init__(self):
        self.legs = 8
        self.load = [1]
    def __iadd__(self, more):
        print("iadd", more)
        self.legs += more
        return self
crab = Crab()
told("crab", crab).legs -= told("one", 1)
crab += 2
crab.load += [2]
print(crab.legs, crab.load)
counts = {}
counts[told("key", "reef")] = counts.get("reef", 0) + 1
counts["reef"] |= 6
print(counts, beds[0] if told("test", True) else told("never", 0))
word = "mud"
word += "dy"
total = 7
total //= 2
total **= 3
total %= 5
total <<= 2
print(word, total)
