"""Takes all memory that there is."""

import json
import sys

at = json.loads(sys.argv[1])

held = []
try:
    while len(held) < 64:
        held.append(bytearray(256 << 20))
    print("REACHED")
except MemoryError:
    held.clear()
