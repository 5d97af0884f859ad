"""Which files a program may read and write: Landlock, as Linux's Documentation/userspace-api/landlock.rst has it.

What is not allowed is refused, in this process and all that it starts, for good. Later kernels know more rights; those
that this one does not know are left out.
"""

from __future__ import annotations

import os
import stat
import struct
from collections.abc import Iterable

from eelgrass.recorder.confinement.numbers import number_of
from eelgrass.recorder.confinement.system_calls import system_call

_EXECUTE, _WRITE_FILE, _READ_FILE, _READ_DIR = 1 << 0, 1 << 1, 1 << 2, 1 << 3
_MAKE_CHARACTER_DEVICE, _MAKE_BLOCK_DEVICE = 1 << 6, 1 << 11
_REFER, _TRUNCATE, _IOCTL_DEV = 1 << 13, 1 << 14, 1 << 15
#: All rights that the first version knows; later ones have one more each: moving between folders, cutting, devices.
_FIRST_RIGHTS, _LATER_RIGHTS = (1 << 13) - 1, {2: _REFER, 3: _TRUNCATE, 5: _IOCTL_DEV}
_OF_FILES = _EXECUTE | _WRITE_FILE | _READ_FILE | _TRUNCATE | _IOCTL_DEV
_DEVICES = _MAKE_CHARACTER_DEVICE | _MAKE_BLOCK_DEVICE | _IOCTL_DEV
_READ = _EXECUTE | _READ_FILE | _READ_DIR
_BIND_TCP, _CONNECT_TCP = 1 << 0, 1 << 1
_ABSTRACT_SOCKETS, _SIGNALS = 1 << 0, 1 << 1
_ASK_VERSION, _PATH_BENEATH = 1, 1
#: The versions from which on TCP, and signals and abstract sockets, can be kept.
_TCP_FROM, SCOPES_FROM = 4, 6


def version() -> int:
    """The version of Landlock that this kernel has; 0 for none."""
    try:
        return system_call(number_of("landlock_create_ruleset"), 0, 0, _ASK_VERSION)
    except OSError:
        return 0


def restrict(reads: Iterable[str], lists: Iterable[str], writes: Iterable[str], keeps_network: bool) -> None:
    """Allows reading and running what is at or below some paths, to list the folders below others, everything at or
    below a third kind, and nothing else;
    with `keeps_network`, no TCP either. Paths that are not there are left out. Raises OSError."""
    known = version()
    rights = _FIRST_RIGHTS
    for since, right in _LATER_RIGHTS.items():
        rights |= right if known >= since else 0
    network = _BIND_TCP | _CONNECT_TCP if keeps_network and known >= _TCP_FROM else 0
    scopes = _ABSTRACT_SOCKETS | _SIGNALS if known >= SCOPES_FROM else 0
    attributes = struct.pack("QQQ", rights, network, scopes)
    size = 24 if known >= SCOPES_FROM else 16 if known >= _TCP_FROM else 8
    rules = system_call(number_of("landlock_create_ruleset"), attributes[:size], size, 0)
    try:
        for paths, allowed in ((reads, _READ), (lists, _READ_DIR), (writes, rights & ~_DEVICES)):
            for path in paths:
                _allow(rules, path, allowed & rights)
        system_call(number_of("landlock_restrict_self"), rules, 0)
    finally:
        os.close(rules)


def _allow(rules: int, path: str, rights: int) -> None:
    try:
        beneath = os.open(path, os.O_PATH | os.O_CLOEXEC)
    except OSError:
        return
    try:
        if not stat.S_ISDIR(os.fstat(beneath).st_mode):
            rights &= _OF_FILES
        system_call(number_of("landlock_add_rule"), rules, _PATH_BENEATH, struct.pack("=Qi", rights, beneath), 0)
    finally:
        os.close(beneath)
