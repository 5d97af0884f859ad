"""Which of the kernel's calls a program may make: a filter in the kernel's own small language (seccomp, BPF).

After Linux's Documentation/userspace-api/seccomp_filter.rst. What the filter cannot see is what a pointer leads to, so
that files are not its business, but those of Landlock and of the namespaces.
"""

from __future__ import annotations

import os
import struct

from eelgrass.recorder.confinement.numbers import MACHINE, NUMBERS, number_of
from eelgrass.recorder.confinement.system_calls import address_of, system_call

_LOAD, _EQUAL, _ABOVE, _ANY_BIT, _GIVE = 0x20, 0x15, 0x25, 0x45, 0x06
_ALLOW, _ERROR, _KILL = 0x7FFF0000, 0x00050000, 0x80000000
_NUMBER_AT, _AUDIT_AT = 0, 4
_X32 = 0x40000000
_EPERM, _ENOSYS, _EACCES, _ENOTSUP = 1, 38, 13, 95
_SET_FILTER, _OF_ALL_THREADS = 1, 1

_AF_UNIX, _AF_INET, _AF_INET6, _AF_NETLINK = 1, 2, 10, 16
_NEW_NAMESPACES = 0x7E020000  # CLONE_NEW*: user, mount, process, network, and the other ones

#: Calls that reach beyond the program itself, or that only an administrator has a use for.
NEVER = (
    *("ptrace", "process_vm_readv", "process_vm_writev", "kcmp", "pidfd_getfd", "process_madvise", "process_mrelease"),
    *("move_pages", "migrate_pages", "perf_event_open", "bpf", "userfaultfd", "personality", "modify_ldt"),
    *("setsid", "setpgid", "unshare", "setns", "chroot", "pivot_root", "mount", "umount2", "open_tree", "move_mount"),
    *("fsopen", "fsconfig", "fsmount", "fspick", "mount_setattr", "name_to_handle_at", "open_by_handle_at"),
    *("kexec_load", "kexec_file_load", "init_module", "finit_module", "delete_module", "reboot", "swapon", "swapoff"),
    *("acct", "quotactl", "quotactl_fd", "syslog", "settimeofday", "clock_settime", "clock_adjtime", "adjtimex"),
    *("sethostname", "setdomainname", "iopl", "ioperm", "vhangup", "add_key", "request_key", "keyctl"),
    "fanotify_init",
)
#: Calls that go round a filter, or hide from it what they do; a program is told that there are no such.
_UNKNOWN = ("io_uring_setup", "io_uring_enter", "io_uring_register", "clone3")
#: Calls about a process, and the place of the argument that says which: nobody's but one's own.
_OF_ONE_PROCESS = {
    **{"prlimit64": 0, "sched_setaffinity": 0, "sched_setparam": 0, "sched_setscheduler": 0, "sched_setattr": 0},
    **{"setpriority": 1, "ioprio_set": 1},
}
_SIGNALS = {"kill": 0, "tkill": 0, "tgkill": 0, "rt_sigqueueinfo": 0, "rt_tgsigqueueinfo": 0}
#: Where other programs of the person's can be reached through the kernel's own memory.
_SHARED = ("shmget", "shmat", "semget", "msgget", "mq_open")
#: What Landlock does not watch: the program is told that it is done.
_PRETENDED = (
    *("chmod", "fchmod", "fchmodat", "fchmodat2", "chown", "fchown", "lchown", "fchownat"),
    *("utime", "utimes", "futimesat", "utimensat"),
)
_MARKS = (
    *("setxattr", "lsetxattr", "fsetxattr", "setxattrat"),
    *("removexattr", "lremovexattr", "fremovexattr", "removexattrat"),
)
#: Typing into a terminal, by `ioctl`: the requests TIOCSTI, TIOCLINUX, TIOCSETD and TIOCCONS.
_TERMINAL = (0x5412, 0x541C, 0x5423, 0x541D)


class Allowed:
    """What the other layers make harmless: `own_files`, the program sees no files but its own; `own_network`, none of
    this machine's; `own_memory`, none of other programs; `own_signals`, its signals reach itself alone. `network`, the
    real one is wanted; `local`, sockets of this machine's other programs are."""

    def __init__(
        self,
        *,
        own_files: bool,
        own_network: bool,
        own_memory: bool,
        own_signals: bool,
        network: bool,
        local: bool,
    ) -> None:
        self.own_files, self.own_network, self.own_memory = own_files, own_network, own_memory
        self.own_signals, self.network, self.local = own_signals, network, local


def _error(code: int) -> tuple[int, int, int, int]:
    return (_GIVE, 0, 0, _ERROR | code)


def _argument(place: int) -> tuple[int, int, int, int]:
    """Loads the lower half of an argument."""
    return (_LOAD, 0, 0, 16 + 8 * place)


class _Filter:
    """Instructions: (code, how many to skip where it holds, where it does not, operand)."""

    def __init__(self) -> None:
        self.code: list[tuple[int, int, int, int]] = []

    def of_call(self, name: str, *what: tuple[int, int, int, int]) -> None:
        """What to do at a call: jumps of 255 instructions at most, which each call's own part stays below."""
        number = None if MACHINE is None else NUMBERS[name][MACHINE.column]
        if number is not None:
            self.code += [(_LOAD, 0, 0, _NUMBER_AT), (_EQUAL, 0, len(what), number), *what]

    def deny(self, names: tuple[str, ...], code: int) -> None:
        for name in names:
            self.of_call(name, _error(code))


def instructions(allowed: Allowed) -> list[tuple[int, int, int, int]]:
    """The filter. Raises OSError on a machine that is not known."""
    if MACHINE is None:
        raise OSError(_ENOSYS, "this kind of machine is not known")
    found = _Filter()
    found.code = [(_LOAD, 0, 0, _AUDIT_AT), (_EQUAL, 1, 0, MACHINE.audit), (_GIVE, 0, 0, _KILL)]
    if MACHINE.column == 0:  # a second set of numbers for the same calls
        found.code += [(_LOAD, 0, 0, _NUMBER_AT), (_ABOVE, 0, 1, _X32 - 1), _error(_ENOSYS)]
    found.deny(NEVER, _EPERM)
    found.deny(_UNKNOWN, _ENOSYS)
    found.of_call("clone", _argument(0), (_ANY_BIT, 0, 1, _NEW_NAMESPACES), _error(_EPERM))
    own = os.getpid()
    for name, place in _OF_ONE_PROCESS.items():
        found.of_call(name, _argument(place), (_EQUAL, 2, 0, 0), (_EQUAL, 1, 0, own), _error(_EPERM))
    requests = [(_EQUAL, len(_TERMINAL) - place, 0, request) for place, request in enumerate(_TERMINAL)]
    found.of_call("ioctl", _argument(1), *requests, (_GIVE, 0, 0, _ALLOW), _error(_EPERM))
    if not allowed.own_signals:
        _keep_signals(found, own)
    if not allowed.own_memory:
        found.deny(_SHARED, _EACCES)
    if not allowed.own_files:
        found.deny(_PRETENDED, 0)
        found.deny(_MARKS, _ENOTSUP)
    _keep_sockets(found, allowed)
    return [*found.code, (_GIVE, 0, 0, _ALLOW)]


def _keep_signals(found: _Filter, own: int) -> None:
    """Signals to itself, its group, and to processes that are younger than it: those that it started are. Where the
    kernel can tell whose a process is, that is left to it."""
    younger = [(_EQUAL, 4, 0, 0), (_EQUAL, 3, 0, (1 << 32) - own), (_ABOVE, 1, 0, 0x7FFFFFFF), (_ABOVE, 1, 0, own - 1)]
    for name, place in _SIGNALS.items():
        found.of_call(name, _argument(place), *younger, _error(_EPERM))
    found.deny(("pidfd_send_signal",), _EPERM)


def _keep_sockets(found: _Filter, allowed: Allowed) -> None:
    kinds = [_AF_INET, _AF_INET6] if allowed.own_network or allowed.network else []
    kinds += [_AF_NETLINK] if allowed.network else []
    kinds += [_AF_UNIX] if allowed.own_files or allowed.local else []
    known = [(_EQUAL, len(kinds) - place, 0, kind) for place, kind in enumerate(kinds)]
    found.of_call("socket", _argument(0), *known, _error(_EACCES))


def install(allowed: Allowed) -> None:
    """Puts the filter in force, for good, for this process and all that it starts. Raises OSError."""
    packed = b"".join(struct.pack("HBBI", *its) for its in instructions(allowed))
    program = struct.pack("H6xQ", len(packed) // 8, address_of(packed))
    system_call(number_of("seccomp"), _SET_FILTER, _OF_ALL_THREADS, program)
