"""Counting seahorses: dictionaries, tuples as keys, nested loops, augmented elements."""
SITES = ("reef", "sluice", "mud bank")
sightings = [("reef", 3), ("mud bank", 1), ("reef", 2), ("sluice", 0), ("mud bank", 4)]
counts = {}
for site, number in sightings:
    if site in counts:
        counts[site] += number
    else:
        counts[site] = number
grid = [[0] * 3 for _ in range(2)]
for row in range(2):
    for column in range(3):
        if (row + column) % 2:
            continue
        grid[row][column] = row * 10 + column
pairs = {}
for first in SITES:
    for second in SITES:
        if first < second:
            pairs[first, second] = counts[first] - counts[second]
best, *others = sorted(counts.items(), key=lambda entry: -entry[1])
del counts["sluice"]
numbers = set()
for _, number in sightings:
    numbers.add(number % 3)
total = sum(number for _, number in sightings)
print(best, others, grid, pairs, numbers, total, sep="\n")
