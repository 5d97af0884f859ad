"""Types into the terminal that it was started from."""

import fcntl
import json
import sys
import termios

at = json.loads(sys.argv[1])

for number in (0, 1, 2):
    try:
        fcntl.ioctl(number, termios.TIOCSTI, b"x")
        print("REACHED")
    except OSError:
        pass
for path in ("/dev/tty", "/dev/pts/0", "/dev/console", "/dev/ptmx"):
    try:
        open(path, "w").write("x")
        print("REACHED", path)
    except OSError:
        pass
