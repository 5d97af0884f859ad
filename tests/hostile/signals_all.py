"""Ends all that it may, at once."""

import json
import os
import signal
import sys

at = json.loads(sys.argv[1])

signal.signal(signal.SIGTERM, signal.SIG_IGN)
for target in (-1, -at["group"]):
    try:
        os.kill(target, signal.SIGTERM)
    except OSError:
        pass
