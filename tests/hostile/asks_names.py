"""Asks a name server, which tells it who asked."""

import json
import socket
import sys

at = json.loads(sys.argv[1])

try:
    socket.getaddrinfo("linnet.example", 80)
    print("REACHED")
except OSError:
    pass
