"""Changes what is where in the file system."""

import ctypes
import json
import sys

at = json.loads(sys.argv[1])

libc = ctypes.CDLL(None, use_errno=True)
for kinds in (0x10000000, 0x10020000, 0x40000000):
    if libc.unshare(kinds) == 0:
        print("REACHED", "unshare", kinds)
if libc.mount(b"none", b"/usr", b"tmpfs", 0, b"") == 0:
    print("REACHED", "mount")
if libc.umount2(b"/usr", 2) == 0:
    print("REACHED", "umount")
if libc.chroot(b"/usr") == 0:
    print("REACHED", "chroot")
