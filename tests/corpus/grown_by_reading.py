"""Keys that come to be because they are read."""
from collections import defaultdict
class Map:
    def __init__(self):
        self.near = defaultdict(list)
        self.seen = {}
    def join(self, one, other):
        self.near[one].append(other)
        self.near[other].append(one)
    def around(self, bed):
        for other in self.near[bed]:
            yield other
    def of(self, bed):
        return self.near[bed]
chart = Map()
chart.join("reef", "mud")
chart.join("mud", "pier")
print(list(chart.around("sluice")))
print(chart.of("buoy"))
beds = defaultdict(int)
def look(bed):
    if beds[bed] > 2:
        return beds
    return beds[bed + "s"]
print(look("ray"), [beds[name] for name in "ab"])
print(len([one for one in chart.near["ferry"]]), (lambda bed: beds[bed])("lamp"))
def deeper(tree, path):
    for part in path:
        tree = tree[part]
    return tree
def tree():
    return defaultdict(tree)
root = tree()
deeper(root, "abc")
print(len(root), root["x"]["y"] is None)
while beds["while"] < 2:
    beds["while"] += 1
first, last = beds["first"], beds["last"]
text = f"{beds['text']}"
print(text, sorted(beds))
rows = sorted([("mo", 2), ("ti", 1)], key=lambda item: item[1])
print(rows)
class Missing(dict):
    def __missing__(self, key):
        self[key] = key * 2
        return self[key]
doubled = Missing(a=1)
value = doubled["b"]
print(doubled, value)
assert beds["assert"] == 0
del root["x"]["y"]
print(beds["end"])
end = 0
