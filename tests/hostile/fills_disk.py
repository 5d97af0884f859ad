"""Fills the disk with one file."""

import json
import sys

at = json.loads(sys.argv[1])

try:
    with open("large", "wb") as file:
        for _ in range(64):
            file.write(bytes(64 << 20))
    print("REACHED")
except OSError:
    pass
