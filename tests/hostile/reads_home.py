"""Reads what lies in the person's home."""

import json
import os
import sys

at = json.loads(sys.argv[1])

for path in (at["home"], at["secret"], os.path.expanduser("~/secret.txt")):
    try:
        held = os.listdir(path) if os.path.isdir(path) else open(path).read()
        if held:
            print("REACHED", path, str(held)[:40])
    except OSError:
        pass
