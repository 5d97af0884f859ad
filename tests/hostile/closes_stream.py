"""Closes all that it did not open."""

import json
import os
import sys

at = json.loads(sys.argv[1])

os.closerange(3, 1024)
print("done")
