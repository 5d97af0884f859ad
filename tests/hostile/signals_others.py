"""Ends another process."""

import json
import os
import signal
import sys

at = json.loads(sys.argv[1])

for number in (signal.SIGTERM, signal.SIGKILL, signal.SIGSTOP):
    try:
        os.kill(at["victim"], number)
    except OSError:
        pass
try:
    signal.pidfd_send_signal(os.pidfd_open(at["victim"]), signal.SIGKILL)
except OSError:
    pass
