"""Imports of every kind, at the top and inside, and what they bind."""
from __future__ import annotations
import os.path
import collections.abc as kinds, math as maths
from string import *
from textwrap import (dedent, fill as fold)
def late():
    import json as later
    from os import sep
    return later.dumps({"sep": sep})
print(os.path.basename("bay/reef"), maths.floor(2.7), digits, fold("x"), dedent("  y"), late())
try:
    import nowhere_at_all
except ImportError as missing:
    print(missing.name)
try:
    from math import no_such_thing
except ImportError as missing:
    print("no such thing")
print(issubclass(list, kinds.Sequence), late.__annotations__)
