"""What everyday ways of changing things cost: seconds and bytes told for each change, at three sizes."""

from __future__ import annotations

import subprocess
import sys
import tempfile
from pathlib import Path

from benchmarks.measure import machine

_TOLD = Path(__file__).parents[1] / "tests/support/told.py"
SIZES = (500, 2_000, 8_000)
_LOOP = "for n in range(N):\n    "
#: Programs that change something N times. Of each, what is told must grow with N.
PROGRAMS = {
    "append": f"rows = []\n{_LOOP}rows.append(n)",
    "append, kept": f"rows = []\nadd = rows.append\n{_LOOP}add(n)",
    "add, kept": f"tags = set()\nput = tags.add\n{_LOOP}put(n)",
    "setdefault, kept": f"sites = {{}}\ngive = sites.setdefault\n{_LOOP}give(n, n)\n    sites[-n] = n",
    "append and popleft, kept": "from collections import deque\nqueue = deque(range(N))\n"
    f"put, take = queue.append, queue.popleft\n{_LOOP}put(n)\n    last = take()",
    "appendleft and pop, kept": "from collections import deque\nqueue = deque(range(N))\n"
    f"put, take = queue.appendleft, queue.pop\n{_LOOP}put(n)\n    last = take()",
    "append and pop, kept, where nothing is held": "import gc\npile = []\n"
    f"put, take = pile.append, pile.pop\n{_LOOP}put(n)\n{_LOOP}last = take()",
    "append, handed to map": f"rows = []\n{_LOOP}list(map(rows.append, [n]))",
    "append, stored in objects": "class Buoy:\n    def __init__(self, rows):\n        self.tell = rows.append\n"
    f"rows = []\nbuoys = [Buoy(rows) for n in range(9)]\n{_LOOP}buoys[n % 9].tell(n)",
    "fields shown by __dict__": "class Crab:\n    def __init__(self, name):\n        self.name = name\n"
    "    def __repr__(self):\n        return f'Crab({self.__dict__})'\n"
    f"text = str([Crab(n) for n in range(40)])\ntotal = 0\n{_LOOP}total += n",
    "fields kept": f"class Crab:\n    pass\ncrab = Crab()\nfields = vars(crab)\n{_LOOP}last = n",
    "a list that is handed to functions": "def at(rows, n):\n    return rows[n]\n"
    f"rows = list(range(N))\n{_LOOP}at(rows, n)",
    "random.choice": f"import random\nrows = list(range(N))\n{_LOOP}drawn = random.choice(rows)",
    "choice of a Random": "from random import Random\nrng = Random(1)\n"
    f"rows = list(range(N))\n{_LOOP}drawn = rng.choice(rows)",
    "bisect.insort": f"import bisect\nrows = []\n{_LOOP}bisect.insort(rows, n * 7 % 1000)",
    "remove": f"rows = list(range(N))\n{_LOOP}rows.remove(n)",
    "del rows[0]": "rows = list(range(N))\nwhile rows:\n    del rows[0]",
    "dictionary, update": f"sites = {{}}\n{_LOOP}sites.update({{n: n}})",
    "dictionary, |=": f"sites = {{}}\n{_LOOP}sites |= {{n: n}}",
    "set, |=": f"tags = set()\n{_LOOP}tags |= {{n}}",
    "set, update": f"tags = set()\n{_LOOP}tags.update([n])",
    "Counter, update": f"from collections import Counter\ntally = Counter()\n{_LOOP}tally.update([n])",
    "defaultdict(list)": f"from collections import defaultdict\nrows = defaultdict(list)\n{_LOOP}rows[n % 7].append(n)",
    "Queue": f"from queue import Queue\nline = Queue()\n{_LOOP}line.put(n)\n{_LOOP}got = line.get()",
    "UserList": f"from collections import UserList\nrows = UserList()\n{_LOOP}rows.append(n)",
    "list with super().append": "class Log(list):\n    def append(self, entry):\n        super().append(entry)\n"
    f"log = Log()\n{_LOOP}log.append(n)",
    "dict with super().__setitem__": "class Book(dict):\n    def __setitem__(self, key, value):\n"
    f"        super().__setitem__(key, value)\nbook = Book()\n{_LOOP}book[n] = n",
    "set with super().add": "class Tags(set):\n    def add(self, tag):\n        super().add(tag)\n"
    f"tags = Tags()\n{_LOOP}tags.add(n)",
    "a class with a list": "class Bag:\n    def __init__(self):\n        self.things = []\n    def add(self, thing):\n"
    f"        self.things.append(thing)\nbag = Bag()\n{_LOOP}bag.add(n)",
    "keys with __eq__": "class Place:\n    def __init__(self, x):\n        self.x = x\n    def __eq__(self, other):\n"
    "        return self.x == other.x\n    def __hash__(self):\n        return self.x\n"
    f"sites = {{}}\n{_LOOP}sites[Place(n)] = n",
    "keys 1.0, 2.0": f"sites = {{}}\n{_LOOP}sites[n / 1] = n",
    "bytearray": f"row = bytearray()\n{_LOOP}row.append(n % 256)\n    row[n // 2] = 3",
    "array": f"from array import array\nrow = array('i', range(N))\n{_LOOP}row[n] = 3",
    "NumPy array": f"import numpy as np\nrow = np.zeros(N)\n{_LOOP}row[n] = 3\n    total = row.sum()",
    "swapped neighbours": f"rows = list(range(N + 1))\n{_LOOP}rows[n], rows[n + 1] = rows[n + 1], rows[n]",
}
#: What costs more the more there is, also in a plain run; shown for comparison.
MAKING_ANEW = {
    "rows = rows + [n]": f"rows = []\n{_LOOP}rows = rows + [n]",
    "rows = rows[1:]": "rows = list(range(N))\nwhile rows:\n    rows = rows[1:]",
    "OrderedDict.move_to_end": "from collections import OrderedDict\norder = OrderedDict((n, n) for n in range(N))\n"
    f"{_LOOP}order.move_to_end(n)",
    "array, append": f"from array import array\nrow = array('i')\n{_LOOP}row.append(3)",
    "dictionary of lists, update, where nothing is held": f"import gc\nsites = {{}}\n{_LOOP}sites.update({{n: [n]}})",
}


def main() -> None:
    """Prints a row for each program."""
    print(machine())
    print("| program | " + " | ".join(f"µs, {size:,}" for size in SIZES) + " | bytes told, at these sizes |")
    print("|---|" + "---|" * (len(SIZES) + 1))
    with tempfile.TemporaryDirectory() as folder:
        for name, text in (PROGRAMS | MAKING_ANEW).items():
            times, sizes = [], []
            for size in SIZES:
                program = Path(folder) / "program.py"
                program.write_text(text.replace("N", str(size)))
                command = [sys.executable, str(_TOLD), str(program)]
                done = subprocess.run(command, capture_output=True, check=True, text=True)
                seconds, told_bytes = done.stdout.split()[-2:]
                times.append(f"{float(seconds) / size * 1e6:.1f}")
                sizes.append(f"{int(told_bytes) / size:.0f}")
            print(f"| {name} | {' | '.join(times)} | {', '.join(sizes)} |", flush=True)


if __name__ == "__main__":
    main()
