"""Makes links to what it may not read, and reads through them."""

import json
import os
import sys

at = json.loads(sys.argv[1])

for make, name in ((os.symlink, "soft"), (os.link, "hard")):
    try:
        make(at["secret"], name)
        print("REACHED", open(name).read())
    except OSError:
        pass
