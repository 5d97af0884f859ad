"""Becomes somebody else."""

import json
import os
import subprocess
import sys

at = json.loads(sys.argv[1])

for each in (lambda: os.setuid(0), lambda: os.setgid(0), lambda: os.setgroups([0]), lambda: os.setreuid(12345, 12345)):
    before = os.getresuid(), os.getresgid()
    try:
        each()
        if (os.getresuid(), os.getresgid()) != before:
            print("REACHED", os.getresuid())
    except OSError:
        pass
print(subprocess.run(["su", "-c", "id"], capture_output=True, stdin=subprocess.DEVNULL).returncode)
