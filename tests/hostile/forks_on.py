"""Forks, and so on."""

import json
import os
import sys
import time

at = json.loads(sys.argv[1])

try:
    while True:
        os.fork()
except OSError:
    pass
time.sleep(60)
