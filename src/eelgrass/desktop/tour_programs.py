"""Programs of the Bay of Linnet field station that the tour runs beside the lesson's."""

FULL = """\
class FullError(Exception):
    pass


def board(ferry, passenger):
    if len(ferry) == 3:
        raise FullError(f"no seat for {passenger}")
    ferry.append(passenger)


def cross(names):
    ferry = []
    for name in names:
        board(ferry, name)
    return ferry


print(cross(["Moor", "Reed", "Sedge"]))
print(cross(["Fen", "Holm", "Strand", "Wrack"]))
"""
ENDLESS = """\
shoots = 3
wanted = 10
while shoots < wanted:
    seeds = shoots * 2
    shoot = seeds
"""
COUNTS = """\
class Tag:
    def __init__(self, name, next):
        self.name = name
        self.next = next


class Channel:
    def __init__(self, name):
        self.name = name
        self.left = None
        self.right = None


def sort(counts):
    for end in range(len(counts) - 1, 0, -1):
        for place in range(end):
            if counts[place] > counts[place + 1]:
                counts[place], counts[place + 1] = counts[place + 1], counts[place]
    return counts


def mark(flats, least):
    for row in range(len(flats)):
        for column in range(len(flats[row])):
            if flats[row][column] < least:
                flats[row][column] = 0
    return flats


def rope(names):
    first = None
    for name in names:
        first = Tag(name, first)
    return first


def channels():
    mouth = Channel("mouth")
    mouth.left = Channel("north arm")
    mouth.right = Channel("south arm")
    mouth.left.left = Channel("reed bed")
    mouth.left.right = Channel("mud flat")
    mouth.right.right = Channel("old pier")
    return mouth


shoots = sort([14, 3, 9, 21, 6, 11, 2])
beds = mark([[4, 9, 1, 7], [2, 8, 8, 3], [6, 0, 5, 9]], 4)
tags = rope(["mo", "ti", "ka", "su"])
mouth = channels()
print(shoots, beds)
"""
DEADLOCK = """\
import threading

ferry_lock = threading.Lock()
pier_lock = threading.Lock()
ready = threading.Barrier(2)
log = []


def pilot():
    with ferry_lock:
        log.append("the ferry is mine")
        ready.wait()
        with pier_lock:
            log.append("landing")


def mate():
    with pier_lock:
        log.append("the pier is free")
        ready.wait()
        with ferry_lock:
            log.append("casting off")


crew = [threading.Thread(target=its, name=its.__name__) for its in (pilot, mate)]
for its in crew:
    its.start()
for its in crew:
    its.join()
print(log)
"""
CLUES = """\
def board(name, aboard=[]):
    aboard.append(name)
    return aboard


def heaviest(crabs):
    best = 0
    for place in range(len(crabs) - 1):
        if crabs[place] > crabs[best]:
            best = place
    return crabs[best]


monday = board("Ada")
tuesday = board("Ben")
weights = [120, 95, 87, 140]
in_order = weights
in_order.sort()
print("crew of Tuesday:", tuesday)
print("first crab caught:", weights[0])
print("heaviest:", heaviest(weights))
"""
