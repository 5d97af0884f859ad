"""Looks into another process as a debugger does."""

import ctypes
import json
import os
import sys

at = json.loads(sys.argv[1])

libc = ctypes.CDLL(None, use_errno=True)
for target in (at["victim"], os.getppid()):
    if libc.ptrace(16, target, 0, 0) == 0:
        print("REACHED", "ptrace")
        libc.ptrace(17, target, 0, 0)
    room = ctypes.create_string_buffer(16)
    vector = (ctypes.c_size_t * 2)(ctypes.addressof(room), 16)
    far = (ctypes.c_size_t * 2)(at["where"], 16)
    if libc.process_vm_readv(target, vector, 1, far, 1, 0) > 0:
        print("REACHED", "memory")
