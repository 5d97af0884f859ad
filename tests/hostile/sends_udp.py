"""Sends a datagram."""

import json
import socket
import sys

at = json.loads(sys.argv[1])

try:
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as it:
        it.sendto(b"stolen", ("127.0.0.1", at["udp"]))
        it.sendto(b"stolen", (at["address"], at["udp"]))
except OSError:
    pass
