"""Every action of the window in one table: what it is called, its keys, its sign, what it does."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Action:
    """An action. `call` names a method of `Reader` (for moves) or of `Window`; `strip` puts it on the top strip."""

    id: str
    title: str
    tip: str
    keys: tuple[str, ...]
    call: str
    sign: str | None = None
    is_move: bool = False


ACTIONS: tuple[Action, ...] = (
    Action("first", "Start", "Go to the first line of the run", ("Home",), "first", "start", True),
    Action("previous_line", "Back", "The line before, on this level", ("Left",), "previous_line", "back", True),
    Action("out", "Out", "Out to where the caller goes on", ("Up",), "out", "surface", True),
    Action("into", "Into", "Into the call (the next line where there is none)", ("Down",), "into", "dive", True),
    Action("next_line", "On", "The next line, on this level", ("Right",), "next_line", "onward", True),
    Action("last", "End", "Go to the end of the run", ("End",), "last", "end", True),
    Action(
        "previous_any", "Back, every line", "The line before, on any level", ("Shift+Left",), "previous_any", None, True
    ),
    Action("next_any", "On, every line", "The next line, on any level", ("Shift+Right",), "next_any", None, True),
    Action("go_to", "Go to step…", "Go to a step by its number", ("Ctrl+G",), "ask_step"),
    Action("waterline", "To the waterline", "Bring the line about to run back into view", ("W",), "show_waterline"),
    Action("working", "This line", "Show or hide how the line works out", ("L",), "show_working"),
    Action("open", "Open…", "Open a program or a recording", ("Ctrl+O",), "ask_open"),
    Action("save", "Save recording…", "Save this recording as a file", ("Ctrl+S",), "ask_save"),
    Action("run", "Run again", "Run the program again, with the same input", ("Ctrl+R",), "run_again"),
    Action(
        "run_new", "Run with new input", "Run the program again and type its input anew", ("Ctrl+Shift+R",), "run_anew"
    ),
    Action(
        "run_draw", "Run with a new draw", "Run the program again with other random numbers", ("Ctrl+D",), "run_draw"
    ),
    Action("stop", "Stop the run", "Stop the running program and keep what is recorded", ("Ctrl+.",), "stop_run"),
    Action("keys", "Keys", "Show all keys", ("F1",), "show_keys"),
)
