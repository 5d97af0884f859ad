"""Nests folders deeper than anybody looks."""

import json
import os
import sys

at = json.loads(sys.argv[1])

for number in range(1_500):
    os.mkdir("beds_of_eelgrass")
    os.chdir("beds_of_eelgrass")
open("deep.txt", "w").close()
