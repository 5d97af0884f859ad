"""Writes to its own folder by its absolute path: that has to be the copy."""

import json
import os
import sys

at = json.loads(sys.argv[1])

folder = os.path.dirname(os.path.abspath(__file__))
for name in ("data.txt", "writes_original.py", "new.txt"):
    try:
        with open(os.path.join(folder, name), "w") as file:
            file.write("spoilt")
    except OSError:
        pass
