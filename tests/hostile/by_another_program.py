"""Has other programs do it."""

import json
import subprocess
import sys

at = json.loads(sys.argv[1])

for command in (["cat", at["secret"]], ["sh", "-c", f"cat {at['secret']}"], ["ls", at["home"]]):
    done = subprocess.run(command, capture_output=True, text=True)
    if done.stdout.strip():
        print("REACHED", done.stdout)
