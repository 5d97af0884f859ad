"""Classes that library functions change, over and over, and that are handed over without being changed."""
class Bed:
    depth = 0
def depth_of(what):
    return what.depth
seen = []
for n in range(6):
    setattr(Bed, "depth", n % 2)
    seen.append(Bed.depth)
    Bed.depth = 7
    setattr(Bed, "depth", n % 2)
    seen.append(depth_of(Bed))
    setattr(Bed, f"extra{n % 3}", n)
for name in ("extra0", "extra1"):
    delattr(Bed, name)
print(seen, sorted(name for name in vars(Bed) if not name.startswith("__")))
class Tag(str):
    made = 0
    def __new__(cls, text):
        its = super().__new__(cls, text)
        cls.made += 1
        return its
tags = [Tag(n) for n in range(4)]
print(tags, Tag.made)
