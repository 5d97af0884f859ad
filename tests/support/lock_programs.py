"""Generated programs with threads that take locks within locks, and what is true of how each ends."""

from __future__ import annotations

import random

_KINDS = ("Lock", "RLock")


def program(seed: int) -> str:
    """A program whose threads say what they are about to take, and what they have given back."""
    chance = random.Random(seed)
    kinds = [chance.choice(_KINDS) for _ in range(chance.randint(2, 4))]
    lines = ["import threading", "import time", ""]
    lines += [f"sluice_{place} = threading.{kind}()" for place, kind in enumerate(kinds)]
    is_ordered = chance.random() < 0.3
    threads = chance.randint(2, 4)
    for thread in range(threads):
        lines += ["", "", f"def keeper_{thread}():"]
        for _ in range(chance.randint(1, 2)):
            lines += _taken(chance, kinds, thread, is_ordered)
    lines += ["", "", "keepers = ["]
    lines += [f"    threading.Thread(target=keeper_{thread}, name='keeper {thread}')," for thread in range(threads)]
    lines += ["]", "for keeper in keepers:", "    keeper.start()", "for keeper in keepers:", "    keeper.join()"]
    return "\n".join(lines) + "\n"


def _taken(chance: random.Random, kinds: list[str], thread: int, is_ordered: bool) -> list[str]:
    """Some locks, each taken while those before are held, by `with` or by calls."""
    chosen = chance.sample(range(len(kinds)), chance.randint(1, len(kinds)))
    if is_ordered:
        chosen.sort()
    again = [place for place in chosen if kinds[place] == "RLock" and chance.random() < 0.3]
    lines, indent, by_call = [], "    ", list[int]()
    for place in [*chosen, *again]:
        lines.append(f"{indent}print('{thread} wants {place}')")
        if chance.random() < 0.6 or place in again:
            lines.append(f"{indent}with sluice_{place}:")
            indent += "    "
        else:
            lines.append(f"{indent}sluice_{place}.acquire()")
            by_call.append(place)
        lines.append(f"{indent}print('{thread} has {place}')")
        if chance.random() < 0.3:
            lines.append(f"{indent}time.sleep({chance.randint(1, 9) / 100})")
    return [*lines, *(f"    sluice_{place}.release()" for place in by_call)]


def standing(output: str) -> tuple[dict[int, int], dict[int, set[int]]]:
    """What each thread was waiting for when nobody could go on, and what each had been given, by what they said."""
    wants, has = dict[int, int](), dict[int, set[int]]()
    for line in output.splitlines():
        thread, verb, place = line.split()
        if verb == "wants":
            wants[int(thread)] = int(place)
        else:
            wants.pop(int(thread), None)
            has.setdefault(int(thread), set()).add(int(place))
    return wants, has
