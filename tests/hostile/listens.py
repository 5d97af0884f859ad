"""Is a server for others of this machine."""

import json
import socket
import sys

at = json.loads(sys.argv[1])

try:
    with socket.socket() as it:
        it.settimeout(1)
        it.bind(("0.0.0.0", at["free"]))
        it.listen()
        it.accept()
        print("REACHED")
except OSError:
    pass
