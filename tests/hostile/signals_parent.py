"""Ends Eelgrass."""

import json
import os
import signal
import sys

at = json.loads(sys.argv[1])

for number in (signal.SIGTERM, signal.SIGKILL, signal.SIGSTOP, signal.SIGSEGV):
    try:
        os.kill(os.getppid(), number)
    except OSError:
        pass
