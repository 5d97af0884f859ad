"""Forks, and the fork holds the stream open when it has ended."""

import json
import os
import sys
import time

at = json.loads(sys.argv[1])

if not os.fork():
    while True:
        time.sleep(1)
print("done")
