"""What a move in the window takes while the clues of the run on view are looked for.

`./bench clue_window [STEPS]`; half a million by itself."""

from __future__ import annotations

import sys
from time import perf_counter

from benchmarks.class_window import Taken, new_window, run_ended, tell, walk
from benchmarks.clues import LONG
from benchmarks.measure import machine

_PROGRAM = "objects in a list, at last an exception"
_AGAIN = 20


def main() -> None:
    """A run of so many steps."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 500_000
    print(machine())
    with new_window() as (window, made):
        program, models = made / "crabs.py", window.models
        text, passes = LONG[_PROGRAM]
        program.write_text(text.replace("N)", f"{passes * count // 100_000})"))
        models.settings.change(max_steps=2 * count)
        run_ended(window, program)
        begun = perf_counter()
        tell("while clues are looked for", walk(window, lambda: models.clues.lane.is_busy, 0))
        print(f"{len(models.clues.shown)} clues after {perf_counter() - begun:.2f} s")
        tell("nothing else on its way", walk(window, lambda: False, 200))
        again = Taken()
        for _ in range(_AGAIN):
            models.clues.look()
            its = walk(window, lambda: models.clues.lane.is_busy, 0)
            again.moves += its.moves
            again.others += its.others
        tell(f"while they are looked for again, {_AGAIN} times", again)


if __name__ == "__main__":
    main()
