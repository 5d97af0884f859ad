"""Reads what only an administrator may."""

import json
import sys

at = json.loads(sys.argv[1])

for path in ("/etc/shadow", "/etc/sudoers", "/etc/ssh/ssh_host_ed25519_key", "/var/log/syslog", "/var/lib/dpkg/status"):
    try:
        with open(path) as file:
            print("REACHED", path, len(file.read()))
    except OSError:
        pass
