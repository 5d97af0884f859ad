"""A world of a program's own: files, network and shared memory in which there is nothing of this machine but what it is
given (namespaces(7), mount_namespaces(7), pivot_root(2)).

Nothing of it outlives the program: the folders that it sees are places in memory, at which what it may use is put.
"""

from __future__ import annotations

import os
import stat
import struct
from collections.abc import Iterable, Iterator, Sequence

from eelgrass.recorder.confinement.numbers import number_of
from eelgrass.recorder.confinement.system_calls import system_call

_NEW_USER, _NEW_FILES, _NEW_MEMORY, _NEW_NETWORK = 0x10000000, 0x00020000, 0x08000000, 0x40000000
_BIND, _ALL_BELOW, _PRIVATE, _DETACH = 4096, 16384, 1 << 18, 2
_NOSUID, _NODEV = 2, 4
_AT_RECURSIVE, _READ_ONLY, _NO_SETUID = 0x8000, 1, 2
_AT_HERE = -100
_ELOOP, _MOST_LINKS = 40, 40
_NO_CAPABILITIES = struct.pack("6I", 0, 0, 0, 0, 0, 0)
_CAPABILITIES_VERSION = struct.pack("Ii", 0x20080522, 0)
#: What the kernel is told an interface's flags with (SIOCSIFFLAGS), and those of a loopback that runs.
_SET_FLAGS, _LOOPBACK_UP = 0x8914, 0x49
_AF_INET, _SOCK_DGRAM = 2, 2
#: Where the new root is put together; it stands on every Linux.
_SITE = "/tmp"
#: Files in here are small, and sooner copied than put in place.
_SETTINGS = f"{_SITE}/etc/"
_DEVICES = ("/dev/null", "/dev/zero", "/dev/full", "/dev/random", "/dev/urandom")
_DEVICE_LINKS = {"fd": "/proc/self/fd", "stdin": "fd/0", "stdout": "fd/1", "stderr": "fd/2"}
#: Folders that every program finds, empty and its own.
SHARED = ("/tmp", "/var/tmp", "/dev/shm", "/run")


def separate(keeps_network: bool) -> None:
    """Parts this process from the machine's users, files, shared memory and, if so, network. Raises OSError, where that
    is not allowed, or there is another thread."""
    user, group = os.getuid(), os.getgid()
    kinds = _NEW_USER | _NEW_FILES | _NEW_MEMORY | (_NEW_NETWORK if keeps_network else 0)
    system_call(number_of("unshare"), kinds)
    for name, text in (("setgroups", "deny"), ("gid_map", f"{group} {group} 1"), ("uid_map", f"{user} {user} 1")):
        with open(f"/proc/self/{name}", "w") as file:
            file.write(text)
    if keeps_network:
        _raise_loopback()


def _raise_loopback() -> None:
    """The network of one's own reaches oneself."""
    asking = system_call(number_of("socket"), _AF_INET, _SOCK_DGRAM, 0)
    try:
        system_call(number_of("ioctl"), asking, _SET_FLAGS, struct.pack("16sH22x", b"lo", _LOOPBACK_UP))
    finally:
        os.close(asking)


def move_in(reads: Iterable[str], places: Sequence[Sequence[str]], mebibytes: int) -> None:
    """Puts a root together in which there is what can be read at `reads`, and at each of `places`, pairs of a folder
    and where it is to be, something to write to; of memory that all else takes there may be so many MiB. Makes it this
    process's root, and forgets the one before. Raises OSError."""
    _mount("none", "/", "", _ALL_BELOW | _PRIVATE)
    links, folders = dict[str, str](), set[str]()
    opened = {_resolved(path, links, folders): path for path in (*reads, *_DEVICES) if os.access(path, os.R_OK)}
    opened |= {_resolved(target, links, folders): source for source, target in places}
    writable = {_resolved(its, links, folders) for its in (*_DEVICES, *(target for _, target in places))}
    # By where they are, so that what lies inside of another comes after it; what is there by then need not come again.
    wanted = [path for path in sorted(opened) if path in writable or opened.keys().isdisjoint(_folders_of(path))]
    sources = {path: os.open(opened[path], os.O_PATH | os.O_CLOEXEC) for path in wanted}
    _mount("tmpfs", _SITE, "tmpfs", _NOSUID | _NODEV, f"mode=755,size={mebibytes}m")
    for path, source in sources.items():
        _bind(source, _SITE + path, is_read_only=path not in writable)
        os.close(source)
    for path, target in links.items():
        if not os.path.lexists(_SITE + path):
            os.makedirs(os.path.dirname(_SITE + path), exist_ok=True)
            os.symlink(target, _SITE + path)
    for name, target in _DEVICE_LINKS.items():
        os.symlink(target, f"{_SITE}/dev/{name}")
    for path in SHARED:
        os.makedirs(_SITE + path, exist_ok=True)
        os.chmod(_SITE + path, 0o1777)
        _mount(_SITE + path, _SITE + path, "", _BIND | _ALL_BELOW)  # as the rest can only be read from now on
    _change(_SITE, _READ_ONLY, 0)
    os.chdir(_SITE)
    system_call(number_of("pivot_root"), b".\0", b".\0")
    system_call(number_of("umount2"), b".\0", _DETACH)
    os.chdir("/")


def give_up_rights() -> None:
    """Nothing can be put at other places from now on."""
    system_call(number_of("capset"), _CAPABILITIES_VERSION, _NO_CAPABILITIES)


def _resolved(path: str, links: dict[str, str], folders: set[str]) -> str:
    """Where a path really leads; the links on its way are put to `links`, each at its own real place, and what is none
    to `folders`."""
    done, todo = "", path.strip("/").split("/")
    for _ in range(_MOST_LINKS):
        while todo:
            here = f"{done}/{todo.pop(0)}"
            if here not in folders and os.path.islink(here):
                break
            folders.add(here)
            done = here
        else:
            return done or "/"
        links[here] = os.readlink(here)
        done, todo = "", os.path.normpath(os.path.join(done or "/", links[here], *todo)).strip("/").split("/")
    raise OSError(_ELOOP, os.strerror(_ELOOP), path)


def _folders_of(path: str) -> Iterator[str]:
    """The folders that a path lies in."""
    end = path.rfind("/")
    while end > 0:
        yield path[:end]
        end = path.rfind("/", 0, end)


def _bind(source: int, target: str, is_read_only: bool) -> None:
    if stat.S_ISDIR(os.fstat(source).st_mode):
        os.makedirs(target, exist_ok=True)
    elif not os.path.exists(target):
        os.makedirs(os.path.dirname(target), exist_ok=True)
        made = os.open(target, os.O_CREAT | os.O_WRONLY | os.O_CLOEXEC, 0o644)
        try:
            if is_read_only and target.startswith(_SETTINGS):
                os.write(made, _content(source))
                return
        finally:
            os.close(made)
    _mount(f"/proc/self/fd/{source}", target, "", _BIND | _ALL_BELOW)
    _change(target, (_READ_ONLY if is_read_only else 0) | _NO_SETUID, _AT_RECURSIVE)


def _content(source: int) -> bytes:
    """What is in a small file that may be read."""
    with open(f"/proc/self/fd/{source}", "rb") as file:
        return file.read()


def _change(target: str, attributes: int, how: int) -> None:
    """What holds for all that is mounted at a place."""
    packed = struct.pack("4Q", attributes, 0, 0, 0)
    system_call(number_of("mount_setattr"), _AT_HERE, os.fsencode(target) + b"\0", how, packed, len(packed))


def _mount(source: str, target: str, kind: str, flags: int, data: str = "") -> None:
    texts = [os.fsencode(its) + b"\0" for its in (source, target, kind, data)]
    system_call(number_of("mount"), texts[0], texts[1], texts[2], flags, texts[3])
