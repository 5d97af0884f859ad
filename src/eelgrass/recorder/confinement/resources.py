"""How much a program may take of the machine, as the kernel counts it (prlimit(2))."""

from __future__ import annotations

import os
import struct

from eelgrass.recorder.confinement.numbers import number_of
from eelgrass.recorder.confinement.system_calls import system_call

#: Their numbers, the same on both kinds of machine: size of a file, data, core files, processes and threads.
_FILE, _DATA, _CORE, _PROCESSES = 1, 2, 4, 6


def limit(memory_mib: int, file_mib: int, processes: int) -> None:
    """Sets limits, which the program can only make narrower: memory of one process, size of one file, processes and
    threads of this user (in a world of its own: of the program); 0 for as it is. Raises OSError."""
    for kind, most in ((_CORE, 0), (_DATA, memory_mib << 20), (_FILE, file_mib << 20), (_PROCESSES, processes)):
        if most or kind == _CORE:
            try:
                system_call(number_of("prlimit64"), 0, kind, struct.pack("QQ", most, most), 0)
            except PermissionError:
                continue  # it has been narrower from the beginning


def running_of_user() -> int:
    """How many processes and threads this user has."""
    user, found = os.getuid(), 0
    for name in os.listdir("/proc"):
        try:
            if name.isdigit() and os.stat(f"/proc/{name}").st_uid == user:
                found += len(os.listdir(f"/proc/{name}/task"))
        except OSError:
            continue  # it has just ended
    return found
