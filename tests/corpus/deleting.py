"""Deleting names, elements, slices and fields; global and nonlocal names."""
rows = [0, 1, 2, 3, 4, 5]
del rows[0], rows[1:3]
print(rows)
counts = {"reef": 1, "mud": 2, ("a", 1): 3}
del counts["reef"], counts["a", 1]
print(counts)
class Bed:
    shoots = 3
bed = Bed()
bed.shoots = 4
del bed.shoots
print(bed.shoots)
tide = 1
def change():
    global tide, fresh
    tide = tide + 1
    fresh = "set"
    local = 3
    del local
    try:
        return local
    except UnboundLocalError as wrong:
        return type(wrong).__name__
print(change(), tide, fresh)
del tide
try:
    tide
except NameError as wrong:
    print(wrong)
def outer():
    kept = 1
    def inner():
        nonlocal kept
        kept = [kept]
        return kept
    return inner(), kept
print(outer())
