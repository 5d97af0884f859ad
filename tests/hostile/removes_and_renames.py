"""Removes and renames what is not its own."""

import json
import os
import shutil
import sys

at = json.loads(sys.argv[1])

tries = (
    lambda: os.remove(at["secret"]),
    lambda: os.rename(at["secret"], at["secret"] + ".bak"),
    lambda: os.rename(at["home"], at["home"] + "2"),
    lambda: shutil.rmtree(at["home"]),
    lambda: os.truncate(at["secret"], 0),
    lambda: os.mkdir(at["home"] + "/made"),
)
for each in tries:
    try:
        each()
        print("REACHED")
    except OSError:
        pass
