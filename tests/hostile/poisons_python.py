"""Puts itself into modules that later runs import."""

import json
import os
import sys

at = json.loads(sys.argv[1])

for path in (os.__file__, json.__file__, os.path.join(os.path.dirname(os.__file__), "sitecustomize.py")):
    try:
        with open(path, "a") as file:
            file.write("\n")
        print("REACHED", path)
    except OSError:
        pass
