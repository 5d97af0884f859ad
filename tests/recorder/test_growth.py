"""What is told grows with what a program changes, not with how much there is."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

import pytest
from support import told

PROGRAMS = {
    "kept_append": "rows = []\nadd = rows.append\nfor n in range({n}):\n    add(n)",
    "kept_add": "tags = set()\nput = tags.add\nfor n in range({n}):\n    put(n)",
    "kept_setdefault": "sites = {{}}\ngive = sites.setdefault\nfor n in range({n}):\n    give(n, n)\n    sites[-n] = n",
    "kept_pair": """
from collections import deque
queue = deque(range({n}))
put, take = queue.append, queue.popleft
for n in range({n}):
    put(n)
    last = take()
""",
    "kept_pair_where_nothing_is_held": """
import gc
pile = []
put, take = pile.append, pile.pop
for n in range({n}):
    put(n)
for n in range({n}):
    last = take()
""",
    "stored_in_objects": """
class Buoy:
    def __init__(self, rows):
        self.tell = rows.append
rows = []
buoys = [Buoy(rows) for n in range(9)]
for n in range({n}):
    buoys[n % 9].tell(n)
""",
    "fields_shown": """
class Crab:
    def __init__(self, name):
        self.name, self.legs = name, list(range(8))
    def __repr__(self):
        return f"Crab({{self.__dict__}})"
crabs = [Crab(n) for n in range(40)]
text = str(crabs)
total = 0
for n in range({n}):
    total += n
""",
    "fields_kept": """
class Crab:
    def __init__(self):
        self.legs = 8
crab = Crab()
fields = vars(crab)
for n in range({n}):
    last = n
""",
}


@pytest.mark.parametrize("name", PROGRAMS)
def test_four_times_the_changes_take_about_four_times_as_much(name: str, tmp_path: Path) -> None:
    sizes = []
    for changes in (500, 2_000):
        program = tmp_path / f"{name}_{changes}.py"
        program.write_text(PROGRAMS[name].format(n=changes))
        done = subprocess.run([sys.executable, told.__file__, program], capture_output=True, check=True, text=True)
        sizes.append(int(done.stdout))
    assert sizes[0] > 500
    assert sizes[1] < 6 * sizes[0]
