"""Reads the submission of somebody else."""

import json
import os
import sys

at = json.loads(sys.argv[1])

for path in (at["other"], os.path.dirname(at["other"])):
    try:
        print("REACHED", os.listdir(path) if os.path.isdir(path) else open(path).read())
    except OSError:
        pass
