"""Takes resources from other processes."""

import json
import os
import resource
import sys

at = json.loads(sys.argv[1])

tries = (
    lambda: resource.prlimit(at["victim"], resource.RLIMIT_CPU, (1, 1)),
    lambda: os.sched_setaffinity(at["victim"], {0}),
    lambda: os.setpriority(os.PRIO_PROCESS, at["victim"], 19),
    lambda: os.sched_setscheduler(at["victim"], os.SCHED_IDLE, os.sched_param(0)),
)
for each in tries:
    try:
        each()
        print("REACHED")
    except OSError:
        pass
