"""Puts a link in the place of its folder."""

import json
import os
import sys

at = json.loads(sys.argv[1])

here = os.getcwd()
try:
    os.chdir("/tmp")
    os.rename(here, here + "-aside")
    os.symlink(at["home"], here)
except OSError:
    pass
