"""Starts threads without end."""

import json
import os
import sys
import threading
import time

at = json.loads(sys.argv[1])

started = []
try:
    while len(started) < 100_000:
        its = threading.Thread(target=time.sleep, args=(60,), daemon=True)
        its.start()
        started.append(its)
    print("REACHED")
except (RuntimeError, MemoryError):
    os._exit(0)
