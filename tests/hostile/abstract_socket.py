"""Speaks to a program through a socket without a file."""

import json
import socket
import sys

at = json.loads(sys.argv[1])

try:
    with socket.socket(socket.AF_UNIX) as it:
        it.connect("\0" + at["abstract"])
        it.sendall(b"stolen")
        print("REACHED")
except OSError:
    pass
