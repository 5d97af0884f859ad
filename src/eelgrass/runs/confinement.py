"""What a run is confined to: which layers this machine has, and what a program may reach by whose leave."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from collections.abc import Callable, Mapping
from contextlib import suppress
from functools import cache
from pathlib import Path

from eelgrass.recorder.confinement import file_access
from eelgrass.recorder.confinement.numbers import number_of
from eelgrass.recorder.confinement.system_calls import system_call
from eelgrass.recorder.order import Confinement
from eelgrass.runs.child.scratch import Scratch
from eelgrass.runs.order import CannotRunError, Leave, Order, child_script

#: The layers, each of which holds for itself; the order is that in which they are put in force.
LAYERS = ("resources", "namespaces", "landlock", "filter")
#: So much longer than a run's own limit of memory the kernel's is, for what Python and the recording take.
_MORE_MEMORY_MIB = 512
_FILE_MIB, _PROCESSES = 512, 256
_PATIENCE_SECONDS = 10.0
_SET_DUMPABLE = 4
#: What programs are started with of the person's environment; keys and passwords stand there, too.
_ENVIRONMENT = frozenset(
    (
        *("PATH", "HOME", "USER", "LOGNAME", "SHELL", "TERM", "LANG", "LANGUAGE", "TZ", "COLUMNS", "LINES", "TMPDIR"),
        *("VIRTUAL_ENV", "CONDA_PREFIX", "LD_LIBRARY_PATH", "NO_COLOR", "OMP_NUM_THREADS"),
        *("MPLBACKEND", "MPLCONFIGDIR"),
    )
)
_ENVIRONMENT_BEGINS = ("LC_", "PYTHON", "PYTEST_")
_DISPLAY = frozenset(("DISPLAY", "XAUTHORITY", "WAYLAND_DISPLAY", "XDG_RUNTIME_DIR"))


#: What a layer keeps a program from, by words for who teaches; said where the machine has not got it.
WHAT_FOR = {
    "resources": "programs can take all of this machine's memory",
    "namespaces": "programs have no network of their own, no pools of processes, and cannot change modes of files",
    "landlock": "nothing but a world of its own keeps a program from your files",
    "filter": "programs can ask the system for things that only an administrator needs",
}

UNGUARDED = "This machine cannot keep programs from your files and the network: they can read and change all of it."


def is_confining() -> bool:
    """Whether files and network are kept from programs here, by one layer or the other."""
    return "filter" in layers() and not {"namespaces", "landlock"}.isdisjoint(layers())


def missing_words() -> str:
    """What programs can do on this machine that they should not, in a sentence; '' where nothing is missing."""
    if not is_confining():
        return UNGUARDED
    missing = [WHAT_FOR[its] for its in LAYERS if its not in layers()]
    return f"On this machine {'; '.join(missing)}." if missing else ""


_TRY = """\
from eelgrass.recorder.confinement.confine import confine
from eelgrass.recorder.order import Confinement
confine(Confinement(*{plan!r}))
print("confined")
"""


@cache
def layers() -> tuple[str, ...]:
    """The layers that this machine has: each is tried, in a process of its own."""
    return tuple(its for its in LAYERS if not trouble_with(its))


@cache
def trouble_with(layer: str) -> str:
    """Why a layer cannot be had on this machine, as Linux says it; '' where it can."""
    if layer == "landlock" and not file_access.version():
        return "this Linux has no Landlock, or it is switched off"
    root = Path(child_script()).parents[2]
    with tempfile.TemporaryDirectory(prefix="eelgrass-try-") as folder:
        plan = _plan((layer,), folder, ((folder, folder),), Leave(), 0)
        tried = f"import sys; sys.path.insert(0, {str(root)!r})\n{_TRY.format(plan=tuple(plan))}"
        try:
            done = subprocess.run(
                [sys.executable, "-I", "-c", tried], capture_output=True, timeout=_PATIENCE_SECONDS, check=False
            )
        except (OSError, subprocess.TimeoutExpired) as error:
            return str(error)
        said = done.stderr.decode("utf-8", "replace").strip().rpartition("\n")[2]
        return "" if done.stdout == b"confined\n" else said or f"it ended with status {done.returncode}"


def plan_of(
    order: Order, folder: Path, scratch: Scratch | None, make_temporary: Callable[[], str]
) -> Confinement | None:
    """What a run in a folder, which may be a copy of its program's, is confined to; None for nothing.
    `make_temporary` makes a folder for temporary files, where one is needed. Raises CannotRunError where this machine
    cannot confine it, unless it may run all the same."""
    if order.leave is None:
        return None
    wanted = order.layers if order.layers is not None else layers()
    if order.layers is None and not (order.leave.unguarded or is_confining()):
        raise CannotRunError(missing_words())
    reads, lists, shown = list(map(str, order.reads)), list[str](), folder
    if scratch is not None and "namespaces" in wanted and not scratch.linked:
        shown = scratch.original  # where the program looks for its files stands the copy
    elif scratch is not None:
        reads += map(str, scratch.readable)
        lists.append(str(scratch.original))
    if order.program is not None:
        own = order.program.resolve().parent
        known = [shown, folder, *([scratch.original] if scratch is not None else [])]
        reads += [] if any(own.is_relative_to(its) for its in known) else [str(own)]
    temporary = "" if "namespaces" in wanted else make_temporary()
    plan = _plan(wanted, str(shown), ((str(folder), str(shown)),), order.leave, order.max_memory_mib, reads, temporary)
    return plan._replace(lists=lists)


def _plan(
    wanted: tuple[str, ...],
    folder: str,
    places: tuple[tuple[str, str], ...],
    leave: Leave,
    memory_mib: int,
    reads: list[str] | None = None,
    temporary: str = "",
) -> Confinement:
    given = [(str(its), str(its)) for its in leave.folders if its.is_dir()]
    return Confinement(
        layers=wanted,
        reads=[*(reads or []), *(_display_paths() if leave.display else ())],
        lists=(),
        places=[*places, *given],
        folder=folder,
        temporary=temporary or folder,
        memory_mib=memory_mib + _MORE_MEMORY_MIB if memory_mib else 0,
        file_mib=_FILE_MIB,
        processes=_PROCESSES,
        network=leave.network or (leave.display and _is_far(os.environ.get("DISPLAY", ""))),
        display=leave.display,
        parent=os.getpid(),
    )


def _display_paths() -> list[str]:
    """Where the display is reached, and the key to it."""
    found = ["/tmp/.X11-unix", os.environ.get("XAUTHORITY", os.path.expanduser("~/.Xauthority"))]
    runtime, wayland = os.environ.get("XDG_RUNTIME_DIR"), os.environ.get("WAYLAND_DISPLAY")
    return [*found, os.path.join(runtime, wayland)] if runtime and wayland else found


def _is_far(display: str) -> bool:
    """Whether a display is reached through the network, as by `ssh -X`."""
    return bool(display.partition(":")[0]) and not display.startswith("unix:")


def environment_of(leave: Leave | None, whole: Mapping[str, str]) -> dict[str, str]:
    """What a program is started with of the environment."""
    if leave is None:
        return dict(whole)
    wanted = _ENVIRONMENT | (_DISPLAY if leave.display else frozenset())
    return {name: its for name, its in whole.items() if name in wanted or name.startswith(_ENVIRONMENT_BEGINS)}


def hide_from_programs() -> None:
    """Programs that run here may not look into this process, whatever else they are let do."""
    with suppress(OSError):
        system_call(number_of("prctl"), _SET_DUMPABLE, 0, 0, 0, 0)
