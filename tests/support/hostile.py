"""Runs a hostile program among victims, and says what it has reached: `hostile.py PROGRAM [LAYER,…]`.

In a process of its own, since that is one of the victims. What the programs in `tests/hostile` may not reach: files of
a home and of the system, servers and sockets of this machine, other processes, their memory, and life after the run.
"""

from __future__ import annotations

import contextlib
import ctypes
import json
import os
import resource
import select
import shutil
import socket
import subprocess
import sys
import tempfile
import threading
import time
from dataclasses import replace
from pathlib import Path
from typing import Any
from uuid import uuid4

from eelgrass.runs.order import Leave, Order
from eelgrass.runs.run import Run

HOSTILE = Path(__file__).parents[1] / "hostile"
#: These have no end of their own, and are stopped after so many seconds.
ENDLESS = ("floods_stream", "floods_output", "deaf", "forks_on")
_GOES_ON_SECONDS, _PATIENCE_SECONDS = 1.5, 3.0
_SECRET = "the key to the boat house"


class Victims:
    """Everything that a program may not reach, set up in a folder; `at` says where it is."""

    def __init__(self, folder: Path) -> None:
        self.home = folder / "home"
        self.home.mkdir()
        self.secret = self.home / "secret.txt"
        self.secret.write_text(_SECRET)
        self.other = folder / "others" / "answer.py"
        self.other.parent.mkdir()
        self.other.write_text("other = 1\n")
        name = uuid4().hex
        self.temporary = Path(f"/tmp/eelgrass-victim-{name}")
        self.memory = Path(f"/dev/shm/eelgrass-victim-{name}")
        for path in (self.temporary, self.memory):
            path.write_text(_SECRET)
        self.mark = folder / "mark.txt"
        self.token = f"token-{name}"
        self.victim = subprocess.Popen(["sleep", "300"], start_new_session=True, env={"KEY": _SECRET})
        self.heard: list[str] = []
        self._buffer = ctypes.create_string_buffer(_SECRET.encode())
        self.before = self.state()
        abstract = f"eelgrass-{name}"
        tcp, udp = self._listens(socket.AF_INET, socket.SOCK_STREAM), self._listens(socket.AF_INET, socket.SOCK_DGRAM)
        local, run = str(folder / "s"), f"/run/eelgrass-{name}" if os.access("/run", os.W_OK) else str(folder / "r")
        for address in (local, run, f"\0{abstract}"):
            self._listens(socket.AF_UNIX, socket.SOCK_STREAM, address)
        free = socket.socket()
        free.bind(("127.0.0.1", 0))
        self.free = free.getsockname()[1]
        free.close()
        self._files = [self.temporary, self.memory, Path(local), Path(run)]
        self.at = {
            **{"home": str(self.home), "secret": str(self.secret), "temporary": str(self.temporary)},
            **{"memory": str(self.memory), "tcp": tcp, "udp": udp, "local": local, "run": run, "abstract": abstract},
            **{"address": _own_address(), "free": self.free, "victim": self.victim.pid, "group": self.victim.pid},
            **{"where": ctypes.addressof(self._buffer), "mark": str(self.mark), "token": self.token},
            **{"other": str(self.other), "eelgrass": [str(HOSTILE.parents[1] / "src" / "eelgrass")]},
        }

    def _listens(self, family: int, kind: int, address: Any = ("0.0.0.0", 0)) -> int:
        """A server that notes that somebody spoke to it; gives its port."""
        server = socket.socket(family, kind)
        server.bind(address)
        if kind == socket.SOCK_STREAM:
            server.listen()

        def hear() -> None:
            while True:
                came = server.recv(64) if kind == socket.SOCK_DGRAM else server.accept()
                self.heard.append(f"{family.name if hasattr(family, 'name') else family}: {came!r}"[:60])

        threading.Thread(target=hear, daemon=True).start()
        return server.getsockname()[1] if family == socket.AF_INET else 0

    def state(self) -> dict[str, Any]:
        """What must be as it was."""
        its = self.secret.stat() if self.secret.exists() else None
        return {
            "home": sorted(map(str, self.home.rglob("*"))) if self.home.exists() else None,
            "secret": None if its is None else (its.st_mode, its.st_uid, its.st_mtime_ns, self.secret.read_text()),
            "temporary": self.temporary.read_text(),
            "other": self.other.read_text(),
            "victim": _status(self.victim.pid),
            "mark": self.mark.exists(),
            "here": sorted(path.name for path in Path("/").iterdir()),
        }

    def survivors(self) -> list[str]:
        """Processes of the run that stay. Those that were ended may take a moment to go, where there are many and the
        machine is busy."""
        found = []
        for folder in Path("/proc").iterdir():
            with contextlib.suppress(OSError):
                if folder.name.isdigit() and self.token.encode() in (folder / "cmdline").read_bytes():
                    found.append(folder.name)
        return [its for its in found if int(its) != os.getpid() and not _ends(int(its))]

    def end(self) -> None:
        """Takes the victims away."""
        self.victim.kill()
        self.victim.wait()
        for path in self._files:
            path.unlink(missing_ok=True)


def _status(process: int) -> str:
    lines = Path(f"/proc/{process}/status").read_text().splitlines()
    state = next(line for line in lines if line.startswith("State"))
    return "alive" if state.split()[1] in "SRDI" else state


def _ends(process: int) -> bool:
    """Whether a process ends within some seconds."""
    try:
        handle = os.pidfd_open(process)
    except ProcessLookupError:
        return True
    try:
        return bool(select.select([handle], [], [], _PATIENCE_SECONDS)[0])
    finally:
        os.close(handle)


def _own_address() -> str:
    with contextlib.suppress(OSError), socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as asked:
        asked.connect(("192.0.2.1", 9))  # which sends nothing
        return str(asked.getsockname()[0])
    return "127.0.0.1"


def attacked(name: str, layers: tuple[str, ...] | None, folder: Path) -> dict[str, Any]:
    """What a hostile program has reached, and how its run ended."""
    place = folder / "place"
    place.mkdir()
    program = place / f"{name}.py"
    program.write_text((HOSTILE / f"{name}.py").read_text())
    (place / "data.txt").write_text("mine")
    victims = Victims(folder)
    os.environ["HOME"] = str(victims.home)
    order = Order(
        program, arguments=(json.dumps(victims.at),), leave=Leave(), layers=layers, max_seconds=20, max_memory_mib=1024
    )
    if name in ENDLESS:  # nothing but the stop may end these
        order = replace(order, max_steps=0, max_output=0)
    run = Run(order, keeps_output=True)
    run.start()
    if name in ENDLESS:
        time.sleep(_GOES_ON_SECONDS)
        run.stop()
    if name == "listens":
        _knock(victims.free)
    asked = time.monotonic()
    trace = run.fed([])
    seconds = time.monotonic() - asked
    time.sleep(0.2)  # for who would still write or speak
    after = victims.state()
    told = {
        "reached": [line for line in run.output.splitlines() if line.startswith("REACHED")],
        "changed": [key for key, its in victims.before.items() if after[key] != its],
        "heard": victims.heard,
        "survivors": victims.survivors(),
        "original": (place / "data.txt").read_text() == "mine" and len([*place.iterdir()]) == 2,
        "written": [its["name"] for its in trace.case.get("written", [])][:9],
        "kept": [its.get("text") for its in trace.case.get("written", []) if its.get("text")],
        "outcome": [trace.outcome.outcome, trace.outcome.reason],
        "steps": len(trace.steps),
        "errors": "".join(trace.texts.of(2))[-2000:],
        "seconds": round(seconds, 2),
        "peak_mib": resource.getrusage(resource.RUSAGE_SELF).ru_maxrss >> 10,
        "left": [path.name for path in Path(tempfile.gettempdir()).glob("eelgrass-run-*")],
    }
    victims.end()
    return told


def _knock(port: int) -> None:
    for _ in range(20):
        with contextlib.suppress(OSError):
            socket.create_connection(("127.0.0.1", port), 1).close()
            return
        time.sleep(0.05)


def programs() -> list[str]:
    """The names of all hostile programs."""
    return sorted(path.stem for path in HOSTILE.glob("*.py"))


def report(name: str, layers: str = "", as_nobody: bool = False) -> dict[str, Any]:
    """Runs this module in a process of its own, as this user or as one with no rights; what it says."""
    command = [sys.executable, __file__, name, *([layers] if layers else [])]
    environment = dict(os.environ, PYTHONPATH=os.pathsep.join(filter(None, sys.path)), PYTHONDONTWRITEBYTECODE="1")
    if as_nobody:
        command = ["setpriv", "--reuid=65534", "--regid=65534", "--clear-groups", *command]
        command[command.index(sys.executable)] = python_for_nobody()
    done = subprocess.run(command, capture_output=True, text=True, env=environment, timeout=120, check=False)
    if done.returncode:
        raise RuntimeError(f"{name}: {done.returncode}\n{done.stderr}")
    told: dict[str, Any] = json.loads(done.stdout.splitlines()[-1])
    return told


def python_for_nobody() -> str:
    """A Python of this version that every user may run; '' where there is none, or no way to be another user."""
    its = f"/usr/bin/python{sys.version_info[0]}.{sys.version_info[1]}"
    return its if os.getuid() == 0 and os.path.exists(its) and shutil.which("setpriv") else ""


def reached(told: dict[str, Any]) -> dict[str, Any]:
    """Of a report, what should not be."""
    wrong = {key: told[key] for key in ("reached", "changed", "heard", "survivors", "left") if told[key]}
    if not told["original"]:
        wrong["original"] = "changed"
    if any(_SECRET in text for text in told["kept"]):
        wrong["kept"] = told["kept"]
    return wrong


if __name__ == "__main__":
    with tempfile.TemporaryDirectory(prefix="eelgrass-hostile-") as made:
        Path(made).chmod(0o755)
        os.environ["TMPDIR"] = made
        tempfile.tempdir = made
        chosen = tuple(filter(None, sys.argv[2].split(","))) if len(sys.argv) > 2 else None
        print(json.dumps(attacked(sys.argv[1], chosen, Path(made))))
