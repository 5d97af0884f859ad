"""Changes modes, owners, times and marks of what is not its own."""

import json
import os
import sys

at = json.loads(sys.argv[1])

tries = (
    lambda: os.chmod(at["secret"], 0o777),
    lambda: os.chown(at["secret"], 12345, 12345),
    lambda: os.utime(at["secret"], (1, 1)),
    lambda: os.setxattr(at["secret"], "user.mark", b"x"),
)
for each in tries:
    try:
        each()
    except OSError:
        pass
