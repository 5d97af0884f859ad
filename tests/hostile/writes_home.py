"""Writes into the person's home."""

import json
import sys

at = json.loads(sys.argv[1])

for path in (at["home"] + "/new.txt", at["secret"], at["home"] + "/.profile"):
    try:
        with open(path, "a") as file:
            file.write("spoilt")
        print("REACHED", path)
    except OSError:
        pass
