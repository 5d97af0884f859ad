"""Confining this process, for good, with all that it starts: layer by layer, each of which holds what it can."""

from __future__ import annotations

import os
import sys
from collections.abc import Iterator

from eelgrass.recorder.confinement import call_filter, file_access, namespaces, resources
from eelgrass.recorder.confinement.caches import kept, put
from eelgrass.recorder.confinement.numbers import number_of
from eelgrass.recorder.confinement.system_calls import system_call
from eelgrass.recorder.order import Confinement

_SET_DEATH_SIGNAL, _NO_NEW_PRIVILEGES, _KILL = 1, 38, 9
#: What every program may read of the system: programs and libraries, and what says how these are set up. Nothing of a
#: person's is there.
SYSTEM = (
    *("/usr", "/bin", "/sbin", "/lib", "/lib32", "/lib64", "/libx32", "/nix/store"),
    *("/etc/ld.so.cache", "/etc/ld.so.conf.d", "/etc/alternatives", "/etc/localtime", "/etc/timezone", "/etc/passwd"),
    *("/etc/group", "/etc/nsswitch.conf", "/etc/hosts", "/etc/protocols", "/etc/services", "/etc/mime.types"),
    *(
        "/etc/os-release",
        "/etc/locale.alias",
        "/etc/ssl/certs",
        "/etc/ssl/openssl.cnf",
        "/etc/ca-certificates",
        "/etc/fonts",
        "/etc/terminfo",
    ),
    *("/sys/devices/system/cpu", "/proc/self", "/proc/cpuinfo", "/proc/meminfo", "/proc/stat", "/proc/loadavg"),
)
#: Of these one's own network has no use.
_NETWORK = ("/etc/resolv.conf", "/run/systemd/resolve")
_DEVICES = ("/dev/null", "/dev/zero", "/dev/full", "/dev/random", "/dev/urandom")
_OWN_MIB = 512


def confine(plan: Confinement) -> None:
    """Puts the layers of a plan in force. Raises OSError where one cannot be: then nothing is to run."""
    layers = frozenset(plan.layers)
    reads = [*SYSTEM, *(_NETWORK if plan.network else ()), *python_places(plan), *plan.reads]
    caches = kept()
    if "namespaces" not in layers:
        os.environ["TMPDIR"] = plan.temporary
    elif "TMPDIR" in os.environ:
        os.environ["TMPDIR"] = "/tmp"
    if "namespaces" in layers:
        namespaces.separate(keeps_network=not plan.network)
        namespaces.move_in(reads, plan.places, _OWN_MIB)
        namespaces.give_up_rights()
    put(caches, "/tmp" if "namespaces" in layers else plan.temporary)
    os.chdir(plan.folder)
    if "resources" in layers:
        running = 0 if "namespaces" in layers else resources.running_of_user()
        resources.limit(plan.memory_mib, plan.file_mib, plan.processes + running if plan.processes else 0)
    system_call(number_of("prctl"), _NO_NEW_PRIVILEGES, 1, 0, 0, 0)
    if "landlock" in layers:
        own = namespaces.SHARED if "namespaces" in layers else (plan.temporary,)
        writes = [*(target for _, target in plan.places), *own, *_DEVICES]
        file_access.restrict(reads, plan.lists, writes, keeps_network=not (plan.network or "namespaces" in layers))
    system_call(number_of("prctl"), _SET_DEATH_SIGNAL, _KILL, 0, 0, 0)
    if os.getppid() != plan.parent:
        os._exit(1)  # it has gone meanwhile, and with it the reason to run
    if "filter" in layers:
        call_filter.install(_allowed(plan, layers))


def _allowed(plan: Confinement, layers: frozenset[str]) -> call_filter.Allowed:
    is_apart = "namespaces" in layers
    return call_filter.Allowed(
        own_files=is_apart,
        own_network=is_apart and not plan.network,
        own_memory=is_apart,
        own_signals="landlock" in layers and file_access.version() >= file_access.SCOPES_FROM,
        network=plan.network,
        local=plan.display,
    )


def python_places(plan: Confinement) -> set[str]:
    """Where Python is, and what it imports: but for the program's own folder, and never a person's home as a whole."""
    found = {sys.prefix, sys.base_prefix, sys.exec_prefix, sys.base_exec_prefix, os.path.dirname(os.__file__)}
    found |= {sys.executable, os.path.dirname(os.path.realpath(sys.executable)), _recorder()}
    found |= {os.path.abspath(path) for path in sys.path[1:] if path}
    found |= set(_editable())
    homes = {os.path.realpath(os.path.expanduser("~")), os.path.realpath(plan.folder)}
    return {path for path in found if not any(_holds(path, home) for home in homes)}


def _editable() -> Iterator[str]:
    """Where packages lie that are imported from where they are written, by finders that setuptools has put up."""
    for finder in sys.meta_path:
        module = sys.modules.get(getattr(finder, "__module__", ""))
        mapping = getattr(module, "MAPPING", None)
        if type(mapping) is dict:
            yield from (path for path in mapping.values() if type(path) is str)


def _recorder() -> str:
    return os.path.dirname(os.path.dirname(__file__))


def _holds(path: str, home: str) -> bool:
    return f"{home.rstrip('/')}/".startswith(f"{os.path.realpath(path).rstrip('/')}/")
