"""Makes folders that nobody may open, and many files."""

import json
import os
import sys

at = json.loads(sys.argv[1])

os.mkdir("shut")
open("shut/inside.txt", "w").close()
os.chmod("shut", 0)
for number in range(3_000):
    open(f"file{number}", "w").close()
