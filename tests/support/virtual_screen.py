"""A screen that is not there: Xvfb, asked for whichever number is free, and waited for until it says that number.

`xvfb-run` waits for a signal instead, and for ever where that comes before the shell waits for it.
"""

from __future__ import annotations

import os
import subprocess
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def virtual_screen() -> Iterator[dict[str, str]]:
    """The environment for what is to be shown there, without what chooses another platform of Qt."""
    reading, writing = os.pipe()
    command = ["Xvfb", "-displayfd", str(writing), "-screen", "0", "1400x900x24", "-nolisten", "tcp"]
    with subprocess.Popen(command, pass_fds=[writing], stderr=subprocess.DEVNULL) as server:
        os.close(writing)
        with os.fdopen(reading) as numbers:
            number = numbers.readline().strip()
        if not number:
            raise RuntimeError(f"There is no virtual screen: Xvfb ended with {server.wait()}.")
        try:
            yield {k: v for k, v in os.environ.items() if not k.startswith("QT_")} | {"DISPLAY": f":{number}"}
        finally:
            server.terminate()
