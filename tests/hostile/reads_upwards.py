"""Climbs out of its folder by dots and by the root."""

import json
import os
import sys

at = json.loads(sys.argv[1])

for start in (".", os.path.dirname(os.path.abspath(__file__)), "/proc/self/root", "/proc/self/cwd"):
    path = start
    for _ in range(12):
        path = os.path.join(path, "..")
        try:
            with open(path + at["secret"]) as file:
                print("REACHED", file.read())
        except OSError:
            pass
