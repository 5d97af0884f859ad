"""Small programs that several tests record."""

from __future__ import annotations

FERRY_CREW = """\
class Boat:
    def __init__(self):
        self.aboard = []

def board(boat, name):
    boat.aboard.append(name)
    full = len(boat.aboard) > 1
    return full

boat = Boat()
for name in ["Moor", "Reed", "Fen"]:
    board(boat, name)
wait = 3
"""
CREW = """\
class Boat:
    def __init__(self):
        self.aboard = []
    def __len__(self):
        return len(self.aboard)
def board(boat, name):
    boat.aboard.append(name)
    print(name)
    return name
def free(boat):
    boat.aboard.append("changed by the question")
    return 9 - len(boat)
boat = Boat()
for name in [input(), "Reed"]:
    board(boat, name)
"""
BEDS = """\
total = 0
for shoots in [2, 5, 7, 1]:
    total = total + shoots
    beds = total
if total > 90:
    beds = 0
"""
CREW_CLAIMS = """\
class FullError(ValueError):
    pass
class Boat:
    def __init__(self):
        self.level = 0
        self.seats = [0, 0]
    def board(self, name, seat):
        self.level = self.level + 1
        self.seats[seat] = len(name)
        if self.level > 2 and self.seats[1] > 0:
            raise FullError(name)
boat = Boat()
crew = []
for name in ["Moor", "Reed", "Fen"]:
    crew.append(name)
    try:
        boat.board(name, 1 if name == "Reed" else 0)
    except ValueError:
        crew = []
def deep(level):
    rest = level * 2
    return 0 if level == 0 else deep(level - 1) + rest
deep(2)
"""
DATA = """\
class Tag:
    def __init__(self, name, after):
        self.name = name
        self.after = after
        self.mates = []
def sort(levels):
    for j in range(len(levels) - 1):
        if levels[j] > levels[j + 1]:
            levels[j], levels[j + 1] = levels[j + 1], levels[j]
    return levels[1:j]
flats = [[0, 1], [2, 3, 4]]
for row in range(2):
    flats[row][row] = 9
word = "a\\tb\\u200b"
counts = {"mud": 1}
counts["reef"] = word
last = Tag("mo", None)
first = Tag("ti", last)
last.mates.append(first)
many = list(range(200))
spot = 120
many[spot] = -1
sort([3, 1, 2])
pair = (1, "x")
crew = mates = [1]
mates = [1]
tags = {first}
"""
GAUGES = """\
def mean(levels):
    total = 0
    for level in levels:
        if level > 9:
            continue
        total = total + level
    return total / 4
rows = [[2, 3], [1, 99, 4]]
means = []
for row in rows:
    means.append(mean(row))
text = "=1+1"
shift = -3
"""
MATES = """\
def mean(levels):
    total = 0
    for level in levels:
        if level > 9:
            continue
        total = total + level
    return total / 2
crew = ["mo"]
mates = crew
mates.append("ti")
for row in [[1, 2, 99], [4, 5]]:
    print("mean", mean(row))
word = "1" + "2"
"""
PIERS = """\
class Crab:
    def __init__(self, tag):
        self.tag = tag
    def weigh(self, by):
        return by * 2
stock = {"reef": [3, 1], "pier": [4]}
def total(rows, least=2):
    rows.append(least)
    return sum(rows)
crab = Crab("mo")
weight = crab.weigh(len(stock["reef"])) + total(stock["reef"]) + stock["reef"][2]
if weight > 100 and total([1]) or stock["pier"][0] == 4 < 9 < 2 < weight:
    pass
names = [name.upper() for name in stock]
stock["pier"][weight % 1] += 3 ** 2
for place, levels in sorted(stock.items()):
    text = f"{place!r:>8} {max(levels)}" if levels else None
weight = (total([]) +
          crab.weigh(0))
stock["mud"][total([])]
"""
RIGHT = """\
def total(counts):
    shoots = 0
    for bed in range(len(counts)):
        shoots = shoots + counts[bed]
    return shoots


counts = []
while True:
    answer = input("shoots: ")
    if answer == "":
        break
    counts.append(int(answer))
print("in all:", total(counts))
"""
WRONG = RIGHT.replace("range(len", "range(1, len")
#: Adds up the beds that have at least so many.
TALLY = """\
def tally(beds, least):
    total = 0
    for bed in beds:
        if bed < least:
            continue
        total += bed
    return total
"""
