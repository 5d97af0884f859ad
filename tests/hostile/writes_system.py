"""Writes where the system and Python lie."""

import json
import os
import sys

at = json.loads(sys.argv[1])

for folder in ("/usr", "/usr/lib", "/etc", "/bin", sys.prefix, os.path.dirname(os.__file__), "/", "/var", "/opt"):
    try:
        path = os.path.join(folder, "eelgrass-was-here")
        with open(path, "w") as file:
            file.write("x")
        if folder != "/":
            print("REACHED", path)
    except OSError:
        pass
