"""Writes to Eelgrass's stream without end."""

import json
import os
import sys

at = json.loads(sys.argv[1])

while True:
    for number in (800, 400, 200):
        try:
            os.write(number, bytes(1 << 20))
        except OSError:
            pass
