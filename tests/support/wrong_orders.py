"""Programs with threads that go right in the usual order, and wrong in another, and what is then said."""

from __future__ import annotations

_BOTH = """
keepers = [threading.Thread(target=keeper, args=(name,), name=name) for name in ("gull", "tern")]
for one in keepers:
    one.start()
for one in keepers:
    one.join()
"""

PLANTED: dict[str, tuple[str, str]] = {
    "a lost update": (
        """\
import threading
tally = 0
def keeper(name):
    global tally
    for catch in (2, 3):
        seen = tally
        tally = seen + catch
{both}print(tally)
""",
        "is printed",
    ),
    "an update lost in a field": (
        """\
import threading
class Basket:
    def __init__(self):
        self.eels = 0
    def put(self, eels):
        before = self.eels
        weight = eels * 11
        self.eels = before + eels
basket = Basket()
def keeper(name):
    for eels in (1, 2):
        basket.put(eels)
{both}print(basket.eels)
""",
        "is printed",
    ),
    "looked before it leapt": (
        """\
import threading
seats, taken = 1, []
def keeper(name):
    global seats
    if seats > 0:
        seats = seats - 1
        taken.append(name)
{both}print(len(taken), seats)
""",
        "is printed",
    ),
    "made twice": (
        """\
import threading
stores = {{}}
def keeper(name):
    if "reef" not in stores:
        stores["reef"] = []
    stores["reef"].append(name)
{both}print(len(stores["reef"]))
""",
        "is printed",
    ),
    "two locks": (
        """\
import threading
boat, pier = threading.Lock(), threading.Lock()
def keeper(name):
    first, second = (boat, pier) if name == "gull" else (pier, boat)
    for trip in range(2):
        with first:
            with second:
                print(name, trip)
{both}""",
        "A deadlock",
    ),
    "taken away meanwhile": (
        """\
import threading
crabs = ["shore"]
def keeper(name):
    if crabs:
        found = len(crabs)
        crabs.pop()
{both}print("over")
""",
        "IndexError",
    ),
}
PROGRAMS = {name: text.format(both=_BOTH) for name, (text, _) in PLANTED.items()}
