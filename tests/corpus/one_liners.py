"""Several statements on a line, long statements over several lines."""
tide = 1; ebb = 2; flood = tide + ebb
print(tide, ebb); print(flood)
def short(level): return level + 1
class Bed: rows = 3; size = rows * 2
if flood: print("flood"); tide = 5
for row in range(2): print(row, end=" "); print()
total = (
    short(1)
    + short(
        2
    )
)
names = [
    "reef",
    "mud",
]
result = short(
    level=Bed.size,
)
print(
    total,
    names,
    result,
)
while tide > 3: tide -= 1
try: tide / 0
except ZeroDivisionError: print("no")
finally: print("end")
with open(__file__) as text: first = text.readline()
assert first, (
    "nothing"
)
