"""Reads disks, memory and what is typed."""

import json
import os
import stat
import sys

at = json.loads(sys.argv[1])

for path in ("/dev/mem", "/dev/kmsg", "/dev/sda", "/dev/vda", "/dev/input/event0", "/dev/snd/timer", "/dev/fuse"):
    try:
        open(path, "rb").read(1)
        print("REACHED", path)
    except OSError:
        pass
try:
    os.mknod("disk", 0o600 | stat.S_IFBLK, os.makedev(254, 0))
    print("REACHED", "mknod")
except OSError:
    pass
