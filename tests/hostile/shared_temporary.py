"""Reads and writes the temporary files of other programs."""

import json
import sys

at = json.loads(sys.argv[1])

try:
    with open(at["temporary"]) as file:
        print("REACHED", file.read())
except OSError:
    pass
try:
    with open(at["temporary"], "w") as file:
        file.write("spoilt")
except OSError:
    pass
