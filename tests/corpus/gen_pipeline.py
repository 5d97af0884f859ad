"""A pipeline of generators and generator expressions, left early and run to its end."""
def readings():
    for level in (3, 9, 1, 7):
        yield level
high = (level for level in readings() if level > 2)
pairs = ((level, level * 2) for level in high)
print(next(pairs), list(pairs))
print(sum(level for level in readings()), any(level > 5 for level in readings()))
nested = ((bed, row) for bed in range(2) for row in range(bed + 1))
print(dict(nested), max((len(word) for word in ["mud", "reef"]), default=0))
lazy = (1 / level for level in (1, 0))
print(next(lazy))
try:
    next(lazy)
except ZeroDivisionError as wrong:
    print("caught", wrong)
