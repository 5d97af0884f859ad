"""Writes blocks to Eelgrass's stream that are whole by their form, and as large as can be."""

import json
import os
import struct
import sys
import zlib

at = json.loads(sys.argv[1])

PARTS = b"[" + b"[]," * 40_000_000 + b"[]]"
TEXT = b'{"' + b"a" * 120_000_000 + b'": 1}'


def write(number, kind, payload):
    data = memoryview(struct.pack("<BII", kind, len(payload), zlib.crc32(payload)) + payload)
    while data:
        data = data[os.write(number, data) :]


for stream in (800, 400, 200):
    for kind in (5, 1, 4, 6, 3, 2):
        for payload in (PARTS, TEXT):
            try:
                write(stream, kind, payload)
            except OSError:
                pass
