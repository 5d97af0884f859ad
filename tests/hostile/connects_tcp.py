"""Connects to a server of this machine."""

import json
import socket
import sys

at = json.loads(sys.argv[1])

for host in ("127.0.0.1", "localhost", "::1", at["address"]):
    try:
        with socket.create_connection((host, at["tcp"]), 1) as it:
            it.sendall(b"stolen")
            print("REACHED", host)
    except OSError:
        pass
