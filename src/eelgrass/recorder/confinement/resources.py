"""How much a program may take of the machine, as the kernel counts it (getrlimit(2))."""

from __future__ import annotations

import os


def limit(memory_mib: int, file_mib: int, processes: int) -> None:
    """Sets limits, which the program can only make narrower: memory of one process, size of one file, processes and
    threads of this user (in a world of its own: of the program); 0 for as it is. Raises OSError and ValueError."""
    import resource

    wanted = {resource.RLIMIT_CORE: 0}
    if memory_mib:
        wanted[resource.RLIMIT_DATA] = memory_mib << 20
    if file_mib:
        wanted[resource.RLIMIT_FSIZE] = file_mib << 20
    if processes:
        wanted[resource.RLIMIT_NPROC] = processes
    for kind, most in wanted.items():
        _, hard = resource.getrlimit(kind)
        most = most if hard == resource.RLIM_INFINITY else min(most, hard)
        resource.setrlimit(kind, (most, most))


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
