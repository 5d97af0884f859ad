"""Contexts: several at once, as classes, that swallow or not."""
class Lock:
    def __init__(self, name, swallow=False):
        self.name = name
        self.swallow = swallow
    def __enter__(self):
        print("opens", self.name)
        return self
    def __exit__(self, kind, error, trace):
        print("closes", self.name, kind.__name__ if kind else None)
        return self.swallow
with Lock("sluice") as sluice, Lock("gate", swallow=True) as gate:
    print(sluice.name, gate.name)
    raise ValueError("flood")
with (Lock("a") as first, Lock("b")):
    pass
holder = {}
with Lock("c") as holder["c"], Lock("d") as (first).other:
    print(sorted(holder), first.other.name)
def early():
    with Lock("e"):
        return "returned"
print(early())
for turn in range(2):
    with Lock(str(turn)):
        if turn == 0:
            continue
        break
