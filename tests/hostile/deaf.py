"""Hears no signal, and goes on."""

import json
import signal
import sys

at = json.loads(sys.argv[1])

signal.pthread_sigmask(signal.SIG_BLOCK, range(1, 65))
while True:
    pass
