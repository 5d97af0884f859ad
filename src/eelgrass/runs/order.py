"""What to run and how; and finding out, before anything is started, why it cannot be run."""

from __future__ import annotations

import importlib.util
import warnings
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, NamedTuple

from eelgrass.errors import EelgrassError
from eelgrass.recorder.order import Act as Act
from eelgrass.recorder.order import Desk as Desk
from eelgrass.recorder.order import Setting
from eelgrass.recorder.order import Turns as Turns
from eelgrass.runs.texts.source_text import explained


class CannotRunError(EelgrassError):
    """A program that cannot be run; the message is a sentence for the person. `line` is where, if anywhere."""

    def __init__(self, sentence: str, line: int | None = None) -> None:
        super().__init__(sentence)
        self.line = line


#: Limits of a run about which nothing else is said.
MAX_STEPS = 1_000_000
MAX_OUTPUT_CHARACTERS = 10_000_000
MAX_ELEMENTS = 10_000
MAX_RECORDING_MIB = 1024
#: So much of a line is quoted.
_MOST_QUOTED = 200


class Typed(NamedTuple):
    """What is typed into a run: whole lines, and whether it is told then that there are no more."""

    lines: tuple[str, ...] = ()
    ends: bool = False


@dataclass(frozen=True)
class Leave:
    """What a person lets a program reach besides its own folder: the display, the network, and folders, to write to;
    `unguarded`: all that Eelgrass may, on a machine that cannot keep it from that."""

    display: bool = False
    network: bool = False
    folders: tuple[Path, ...] = ()
    unguarded: bool = False


#: What a program may reach of which nothing else is said.
OWN_FOLDER = Leave()


#: A desk at which nothing is done.
OWN_DESK = Desk()
#: In which threads take turns, if nothing else is said.
OWN_TURNS = Turns()


@dataclass(frozen=True)
class Order:
    """One run to make. `module` is set for `-m`; then `program`, if any, is the file that it is about, in whose folder
    it runs. `texts`, by file, run in place of what is in the program's files, under their names. Limits of 0 mean no
    limit; `max_seconds` is wall time without waiting for input, `max_waiting_seconds` is for each line of input. Of one
    container at most `max_elements` are recorded; once elements would take `max_recording_mib` in Eelgrass's memory,
    much fewer.

    `python` is the interpreter that runs it, None for Eelgrass's own; `python_found` says in few words why that.

    `settings`, by step, are made on the way: what-ifs.

    `turns`: by which order threads take turns, where they can be made to; None: as the interpreter lets them.

    `desk`: windows are simulated, with what is done there; None: they need a display.

    `clock`: the readings, in seconds, that the functions of `time` are to begin with; readings are kept in the
    recording's case unless it is None.

    `leave`: the run is confined to its folder and what a person lets it reach besides; None: it may reach all that
    Eelgrass may. `reads` are folders that belong to it besides. `layers` are those of `confinement` that are to hold,
    None for all that this machine has.
    """

    program: Path | None = None
    texts: Mapping[str, str] = field(default_factory=dict)
    module: str | None = None
    arguments: tuple[str, ...] = ()
    max_steps: int = MAX_STEPS
    max_seconds: float = 0.0
    max_processor_seconds: float = 0.0
    max_waiting_seconds: float = 0.0
    max_memory_mib: int = 0
    max_output: int = MAX_OUTPUT_CHARACTERS
    max_elements: int = MAX_ELEMENTS
    max_recording_mib: int = MAX_RECORDING_MIB
    seed: int | None = None
    clock: dict[str, list[float]] | None = None
    open_libraries: tuple[str, ...] = ()
    settings: tuple[Setting, ...] = ()
    turns: Turns | None = OWN_TURNS
    desk: Desk | None = None
    python: Path | None = None
    python_found: str = ""
    leave: Leave | None = None
    reads: tuple[Path, ...] = ()
    layers: tuple[str, ...] | None = None

    @property
    def text(self) -> str | None:
        """The text that runs in place of what is in the program's own file; None for none."""
        return self.texts.get(str(self.program.absolute())) if self.program else None

    @property
    def name(self) -> str:
        """What the run is called on the screen."""
        return self.program.name if self.program else self.module or ""


def kept_clock(case: dict[str, Any]) -> dict[str, list[float]]:
    """The readings that a recording's case keeps. Raises CannotRunError when it keeps none."""
    kept = case.get("clock")
    readings = list(kept.values()) if isinstance(kept, dict) else [None]
    if not all(isinstance(its, list) and all(isinstance(one, (int, float)) for one in its) for its in readings):
        raise CannotRunError("That recording does not keep what its clock said. Record it with --keep-clock.")
    return {str(name): list(map(float, its)) for name, its in kept.items()} if isinstance(kept, dict) else {}


def check_text(program: Path, text: str | None = None) -> None:
    """Raises CannotRunError, saying where and what, when the program's text, or the one in its place, does not
    compile."""
    source = program.read_bytes() if text is None else text
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        try:
            compile(source, str(program), "exec", dont_inherit=True)
        except SyntaxError as error:
            raise not_understood(program, error.lineno, error.text, error.msg, text) from error
        except (ValueError, RecursionError, MemoryError) as error:
            why = str(error) or "it is nested too deeply"
            raise CannotRunError(f"{program.name} cannot run: its text cannot be read as a program ({why}).") from error


def not_understood(
    program: Path, line: int | None, quoted: str | None, message: str, text: str | None = None
) -> CannotRunError:
    """Says where and why a program's text does not compile. Where it is another `text` than the file's, the line is
    taken out of that: Python quotes the file of that name."""
    quoted = quoted or ""
    if text is not None:
        quoted = "".join(text.split("\n")[(line or 1) - 1 :][:1])
    quoted = quoted.strip()
    shown = quoted if len(quoted) <= _MOST_QUOTED else f"{quoted[:_MOST_QUOTED]}…"
    at = f" (“{shown}”)" if shown else ""
    return CannotRunError(f"{program.name} cannot run, for line {line or 1}{at}: {explained(message, quoted)}", line)


def child_script() -> Path:
    """The file with which a child process starts."""
    spec = importlib.util.find_spec("eelgrass.recorder")
    assert spec is not None
    assert spec.origin is not None
    return Path(spec.origin).with_name("__main__.py")
