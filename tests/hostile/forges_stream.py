"""Tells Eelgrass another story than what it does."""

import json
import os
import sys

at = json.loads(sys.argv[1])

for number in range(3, 1024):
    try:
        os.write(number, b"EEL" * 1000)
    except OSError:
        pass
print("done")
