"""Prints a program's woven text, with hooks as ‹name›: `show_weaving.py PROGRAM`."""

import ast
import re
import sys
from pathlib import Path

from eelgrass.recorder.contract import MARK
from eelgrass.recorder.weaving.name_rules import NameRules, Surroundings
from eelgrass.recorder.weaving.points import Points
from eelgrass.recorder.weaving.statements import Weaver
from eelgrass.recorder.wire import FIRST_POINT


def main() -> None:
    """Weaves the program named on the command line."""
    program = Path(sys.argv[1])
    tree, around = ast.parse(program.read_bytes(), str(program)), Surroundings()
    around.see(tree)
    woven = Weaver(Points(FIRST_POINT), tree, NameRules(tree, lambda _module: False, around)).module()
    mark = re.escape(repr(MARK).strip("'"))
    print(re.sub(f"'{mark}([\\w ]+)'", r"‹\1›", ast.unparse(woven)))


main()
