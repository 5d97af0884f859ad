"""Leaves pipes in its folder, which nobody must open."""

import json
import os
import sys

at = json.loads(sys.argv[1])

os.mkfifo("notes.txt")
os.mkfifo("pipe")
