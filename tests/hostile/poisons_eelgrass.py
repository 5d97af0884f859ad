"""Changes Eelgrass's own files."""

import json
import os
import sys

at = json.loads(sys.argv[1])

for folder in at["eelgrass"]:
    try:
        with open(os.path.join(folder, "__init__.py"), "a") as file:
            file.write("\n")
        print("REACHED", folder)
    except OSError:
        pass
