"""Reads the shared memory of other programs."""

import json
import os
import sys

at = json.loads(sys.argv[1])

try:
    with open(at["memory"]) as file:
        print("REACHED", file.read())
except OSError:
    pass
try:
    print("REACHED" if at["memory"].rpartition("/")[2] in os.listdir("/dev/shm") else "")
except OSError:
    pass
