"""Generated programs whose threads add to what they share, each time another power of two: the bits that are missing at
the end are what was lost."""

from __future__ import annotations

import random

_PLACES = {"tally": "tally", "traps": "traps['reef']", "bay": "bay.eels", "rows": "rows[1]"}
_SETUP = (
    "import threading",
    "tally, traps, rows, lock = 0, {'reef': 0}, [0, 0], threading.Lock()",
    "class Bay:\n    eels = 0\n    def __init__(self):\n        self.eels = 0",
    "bay = Bay()",
)


def program(seed: int) -> str:
    """A program that prints each place and what it holds at the end."""
    chance = random.Random(seed)
    lines, bit = list(_SETUP), 0
    used = chance.sample(sorted(_PLACES), chance.randint(1, 2))
    for thread in range(chance.randint(2, 3)):
        lines += [f"def keeper_{thread}():", "    global tally"]
        for _ in range(chance.randint(1, 4)):
            lines += [f"    {line}" for line in _addition(chance, _PLACES[chance.choice(used)], 1 << bit)]
            bit += 1
    count = sum(line.startswith("def keeper") for line in lines)
    lines.append(f"crew = [threading.Thread(target=its) for its in ({', '.join(f'keeper_{n}' for n in range(count))})]")
    lines += ["for its in crew:\n    its.start()", "for its in crew:\n    its.join()"]
    return "\n".join([*lines, *(f"print({place!r}, {_PLACES[place]})" for place in used), ""])


def _addition(chance: random.Random, place: str, bit: int) -> list[str]:
    way = chance.choice(("apart", "apart", "apart with more", "at once", "locked", "by way of others", "for nothing"))
    split = [f"seen = {place}", f"{place} = seen + {bit}"]
    return {
        "apart": split,
        "apart with more": [split[0], f"more = {bit}", "if more:", f"    {place} = seen + more"],
        "at once": [f"{place} += {bit}"],
        "locked": ["with lock:", *(f"    {line}" for line in split)],
        "by way of others": [f"parts = [{place}, {bit}]", "whole = sum(parts)", f"{place} = whole"],
        "for nothing": [f"seen = {place}", f"{place} += {bit}"],
    }[way]


def lost(text: str, output: str) -> dict[str, bool]:
    """By place as races call it, whether anything that was added there is not in what was printed."""
    found, lines = {}, text.splitlines()
    for name, held in (line.split() for line in output.splitlines()):
        place = _PLACES[name]
        stores = [row for row, its in enumerate(lines) if its.lstrip().startswith((f"{place} =", f"{place} +="))]
        found[place] = int(held) != sum(_bit_of(lines, row) for row in stores)
    return found


def switches(seed: int) -> tuple[tuple[int, int], ...]:
    """Some changes from the usual order of turns: after so many steps, another thread."""
    chance = random.Random(seed)
    return tuple(sorted((place, chance.randint(1, 3)) for place in chance.sample(range(20, 70), chance.randint(1, 6))))


def _bit_of(lines: list[str], row: int) -> int:
    """What a line adds, or those before it prepared."""
    words = lines[row].split()
    if words[-1] == "more":
        return int(lines[row - 2].split()[-1])
    if words[-1] == "whole":
        return int(lines[row - 2].split(", ")[-1].rstrip("]"))
    return int(words[-1])
