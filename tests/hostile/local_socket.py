"""Speaks to a program through a socket in the file system."""

import json
import socket
import sys

at = json.loads(sys.argv[1])

for path in (at["local"], at["run"]):
    try:
        with socket.socket(socket.AF_UNIX) as it:
            it.connect(path)
            it.sendall(b"stolen")
            print("REACHED", path)
    except OSError:
        pass
