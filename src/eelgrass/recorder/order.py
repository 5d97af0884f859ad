"""The order that the child is started with, as both sides know it: a typed message, JSON on the way."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any, NamedTuple


class SideQuestion(NamedTuple):
    """What a side run is made for: the step to come to, how many calls further out to ask than the innermost frame,
    and the expression to work out there."""

    step: int
    up: int
    expression: str


class Setting(NamedTuple):
    """What gets another value just before a step: a name, an element or a field, as `target` says it, `up` calls
    further out than the innermost frame; there `expression` is worked out. A name is that of frame number `frame`."""

    step: int
    up: int
    frame: int
    target: str
    expression: str


class Turns(NamedTuple):
    """By which order threads take turns: its number, and places where another goes on, as pairs of how many steps there
    were before and the number of the thread."""

    number: int = 0
    switches: tuple[tuple[int, int], ...] = ()


class Act(NamedTuple):
    """Something that a person does at the simulated desk: when, in milliseconds; what ("click", "type", "key",
    "choose", "move", "drag", "close", "answer"; at a board "press", "release", "set"); on what, by its words or name;
    which text; where, in pixels or, for a turtle, its own coordinates; and with which button of the mouse."""

    at: float
    do: str
    on: str = ""
    text: str = ""
    x: float | None = None
    y: float | None = None
    button: int = 1


class Desk(NamedTuple):
    """A simulated desk in place of a screen: what is done there, and the moment at which the windows are closed, in
    milliseconds (0: some time after the last act)."""

    acts: tuple[Act, ...] = ()
    until: float = 0.0


class Confinement(NamedTuple):
    """What a program may reach. `layers`: which of "resources", "namespaces", "landlock" and "filter" are to be in
    force. Besides the system and Python it reads what is at `reads`, and lists the folders `lists`.
    `places` are pairs of a folder and where the program is to see it, to write to; without namespaces both are the
    same. It works in `folder`. `temporary` is for its temporary files, without namespaces. Limits are those of
    `confinement/resources`. `network` and `display`: it may reach those. `parent` is the process that it is not to
    outlive."""

    layers: Sequence[str]
    reads: Sequence[str]
    lists: Sequence[str]
    places: Sequence[Sequence[str]]
    folder: str
    temporary: str
    memory_mib: int
    file_mib: int
    processes: int
    network: bool
    display: bool
    parent: int


class ChildOrder(NamedTuple):
    """What to run and how. `fd` is where the stream goes. `texts_fd` is an open file with JSON, the texts that run in
    place of what files hold, by file; -1 for none. `linked` is a folder with links to what is not to be changed, '' for
    none. `module` is set for `-m`, when `program` is not run. Call frames of ours below the program's module are
    `base_frames`. The limits are those of `Limits`. `ask_signal` asks the child to tell what it has and to end,
    `insist_signal` does also where no code in Python runs, `tell_signal` asks it to tell and go on; 0 for none.
    `clock`: the readings that the functions of `time` begin with. A `side` question makes a side run of it, of which
    nothing is recorded. `settings`, by step, are made on the way. Without a `confinement` the program may reach all
    that this process may; without `turns` its threads go on as the interpreter lets them.
    Unless it `is_watched`, what takes turns tells nothing when it is asked: the same recording comes of it
    however slow the machine is. With a `desk`, windows of `tkinter` are simulated."""

    fd: int
    program: str | None
    module: str | None
    argv0: str | None
    arguments: list[str]
    folder: str
    base_frames: int
    texts_fd: int = -1
    linked: str = ""
    open_libraries: Sequence[str] = ()
    seed: int | None = None
    clock: dict[str, list[float]] | None = None
    max_steps: int = 0
    max_seconds: float = 0.0
    max_processor_seconds: float = 0.0
    max_memory_mib: int = 0
    max_output: int = 0
    max_elements: int = 0
    max_recording_mib: int = 0
    ask_signal: int = 0
    insist_signal: int = 0
    tell_signal: int = 0
    side: SideQuestion | None = None
    settings: Sequence[Setting] = ()
    confinement: Confinement | None = None
    turns: Turns | None = None
    is_watched: bool = True
    desk: Desk | None = None

    def as_json(self) -> str:
        """The order on its way."""
        return json.dumps(self._asdict())


def read_order(text: str) -> ChildOrder:
    """The order as it has arrived. Raises TypeError and ValueError when it is none."""
    told: dict[str, Any] = json.loads(text)
    side, settings = told.pop("side"), [Setting(*its) for its in told.pop("settings")]
    confinement, turns, desk = told.pop("confinement"), told.pop("turns"), told.pop("desk")
    return ChildOrder(
        **told,
        side=None if side is None else SideQuestion(*side),
        settings=settings,
        confinement=None if confinement is None else Confinement(*confinement),
        desk=None if desk is None else Desk(tuple(Act(*act) for act in desk[0]), desk[1]),
        turns=None if turns is None else Turns(turns[0], tuple((place, thread) for place, thread in turns[1])),
    )


class Ending(NamedTuple):
    """What the child says last: how the run ended ("finished", "raised", "exited" or "stopped"), why in words, the
    status, the seconds that it took; what its clock said, if that is kept; the limit that it passed, if that is why;
    and how its threads took turns, if they were made to."""

    outcome: str
    reason: str | None
    exit_status: int
    seconds: float = 0.0
    clock: dict[str, list[float]] | None = None
    limit: str = ""
    turns: dict[str, Any] | None = None
