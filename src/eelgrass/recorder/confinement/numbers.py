"""The numbers of the kernel's calls on the two kinds of machine that confinement knows (`asm/unistd.h` there)."""

from __future__ import annotations

import os
import sys


class Machine:
    """A kind of machine: its name in the kernel's filters (`linux/audit.h`), and its column of `NUMBERS`."""

    def __init__(self, audit: int, column: int) -> None:
        self.audit = audit
        self.column = column


MACHINES = {"x86_64": Machine(0xC000003E, 0), "aarch64": Machine(0xC00000B7, 1)}

#: By name: the number on x86_64 and on aarch64; None where there is no such call.
NUMBERS: dict[str, tuple[int | None, int | None]] = {
    "ioctl": (16, 29),
    "socket": (41, 198),
    "clone": (56, 220),
    "kill": (62, 129),
    "ptrace": (101, 117),
    "syslog": (103, 116),
    "setpgid": (109, 154),
    "setsid": (112, 157),
    "capget": (125, 90),
    "capset": (126, 91),
    "personality": (135, 92),
    "setpriority": (141, 140),
    "sched_setparam": (142, 118),
    "sched_setscheduler": (144, 119),
    "vhangup": (153, 58),
    "modify_ldt": (154, None),
    "pivot_root": (155, 41),
    "prctl": (157, 167),
    "adjtimex": (159, 171),
    "chroot": (161, 51),
    "acct": (163, 89),
    "settimeofday": (164, 170),
    "mount": (165, 40),
    "umount2": (166, 39),
    "swapon": (167, 224),
    "swapoff": (168, 225),
    "reboot": (169, 142),
    "sethostname": (170, 161),
    "setdomainname": (171, 162),
    "iopl": (172, None),
    "ioperm": (173, None),
    "init_module": (175, 105),
    "delete_module": (176, 106),
    "quotactl": (179, 60),
    "tkill": (200, 130),
    "sched_setaffinity": (203, 122),
    "clock_settime": (227, 112),
    "tgkill": (234, 131),
    "rt_sigqueueinfo": (129, 138),
    "rt_tgsigqueueinfo": (297, 240),
    "mq_open": (240, 180),
    "kexec_load": (246, 104),
    "add_key": (248, 217),
    "request_key": (249, 218),
    "keyctl": (250, 219),
    "ioprio_set": (251, 30),
    "migrate_pages": (256, 238),
    "move_pages": (279, 239),
    "unshare": (272, 97),
    "perf_event_open": (298, 241),
    "fanotify_init": (300, 262),
    "prlimit64": (302, 261),
    "name_to_handle_at": (303, 264),
    "open_by_handle_at": (304, 265),
    "clock_adjtime": (305, 266),
    "setns": (308, 268),
    "process_vm_readv": (310, 270),
    "process_vm_writev": (311, 271),
    "kcmp": (312, 272),
    "finit_module": (313, 273),
    "sched_setattr": (314, 274),
    "seccomp": (317, 277),
    "kexec_file_load": (320, 294),
    "bpf": (321, 280),
    "userfaultfd": (323, 282),
    "pidfd_send_signal": (424, 424),
    "io_uring_setup": (425, 425),
    "io_uring_enter": (426, 426),
    "io_uring_register": (427, 427),
    "open_tree": (428, 428),
    "move_mount": (429, 429),
    "fsopen": (430, 430),
    "fsconfig": (431, 431),
    "fsmount": (432, 432),
    "fspick": (433, 433),
    "clone3": (435, 435),
    "pidfd_getfd": (438, 438),
    "process_madvise": (440, 440),
    "mount_setattr": (442, 442),
    "quotactl_fd": (443, 443),
    "landlock_create_ruleset": (444, 444),
    "landlock_add_rule": (445, 445),
    "landlock_restrict_self": (446, 446),
    "process_mrelease": (448, 448),
    "shmget": (29, 194),
    "shmat": (30, 196),
    "semget": (64, 190),
    "msgget": (68, 186),
    "chmod": (90, None),
    "fchmod": (91, 52),
    "chown": (92, None),
    "fchown": (93, 55),
    "lchown": (94, None),
    "utime": (132, None),
    "utimes": (235, None),
    "futimesat": (261, None),
    "fchownat": (260, 54),
    "fchmodat": (268, 53),
    "utimensat": (280, 88),
    "fchmodat2": (452, 452),
    "setxattr": (188, 5),
    "lsetxattr": (189, 6),
    "fsetxattr": (190, 7),
    "setxattrat": (463, 463),
    "removexattr": (197, 14),
    "lremovexattr": (198, 15),
    "fremovexattr": (199, 16),
    "removexattrat": (466, 466),
}


#: The kind of machine that this is; None for one that is not known, or where Python is not of its full width.
MACHINE = MACHINES.get(os.uname().machine) if sys.maxsize > 1 << 32 else None


def number_of(name: str) -> int:
    """The number of a call on this machine. Raises OSError where there is none."""
    found = None if MACHINE is None else NUMBERS[name][MACHINE.column]
    if found is None:
        raise OSError(38, f"there is no {name} here")
    return found
