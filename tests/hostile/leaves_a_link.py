"""Leaves links behind, for who looks at what was written."""

import json
import os
import sys

at = json.loads(sys.argv[1])

os.symlink(at["secret"], "notes.txt")
os.symlink(at["home"], "folder")
open("real.txt", "w").write("mine")
