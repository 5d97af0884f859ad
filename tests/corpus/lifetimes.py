"""When objects go: finalizers, weak references, and lists that hold them."""
import weakref
class Crab:
    def __init__(self, name):
        self.name = name
    def __del__(self):
        print("gone", self.name)
crabs = [Crab("Ada"), Crab("Bo")]
watch = weakref.ref(crabs[0])
print(watch().name, weakref.getweakrefcount(crabs[1]))
del crabs[0]
print(watch())
def visit():
    guest = Crab("guest")
    return guest.name
print(visit())
crabs = None
keep = {"cyd": Crab("Cyd")}
keep.clear()
ring = Crab("ring")
ring.self = ring
print("end")
