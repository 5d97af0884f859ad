"""Cases as an ordinary file of unit tests that runs without Eelgrass."""

from __future__ import annotations

import re

from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.cases.literals import read_value
from eelgrass.lessons.exercises.exercise import Exercise
from eelgrass.runs.order import OWN_TURNS

_HEAD = '''\
"""The cases of “{title}”, as unit tests: python -m unittest {module}"""

import ast
import re
import subprocess
import sys
import unittest
from pathlib import Path

PROGRAM = Path(__file__).with_name({program!r})


def run(arguments, lines):
    """What the program prints when it is started so and these lines are typed."""
    typed = "".join(line + "\\n" for line in lines)
    command = [sys.executable, str(PROGRAM), *arguments]
    done = subprocess.run(command, input=typed, capture_output=True, text=True, timeout=10, cwd=PROGRAM.parent)
    if done.returncode:
        raise AssertionError(done.stderr)
    return done.stdout.rstrip("\\n")


def definitions():
    """The program's functions, classes and constants, without what it does."""
    names = {{"__name__": "program"}}
    kept = (ast.FunctionDef, ast.AsyncFunctionDef, ast.ClassDef, ast.Import, ast.ImportFrom)
    tree = ast.parse(PROGRAM.read_text(encoding="utf-8"))
    given = [node for node in tree.body if isinstance(node, (ast.Assign, ast.AnnAssign)) and node.value]
    constants = [node for node in given if is_constant(node.value)]
    tree.body = [node for node in tree.body if isinstance(node, kept) or node in constants]
    exec(compile(tree, str(PROGRAM), "exec"), names)
    return names


def is_constant(node):
    try:
        ast.literal_eval(node)
    except ValueError:
        return False
    return True


class Cases(unittest.TestCase):
'''
#: Programs that show windows.
_WINDOWS = re.compile(r"^\s*(?:import|from)\s+(?:turtle|tkinter)\b", re.MULTILINE)
_FOOT = """

if __name__ == "__main__":
    unittest.main()
"""


def test_file(exercise: Exercise) -> str:
    """The text of the file. Claims are left out: they speak of moments within a run. What needs the simulated desk, or
    an order of turns, is skipped."""
    module = f"test_{exercise.program.stem}"
    title = exercise.title.replace("\\", "/").replace('"', "'")  # which stands in a docstring
    head = _HEAD.format(title=title, module=module, program=exercise.program.name)
    names: set[str] = set()
    shows = _WINDOWS.search(exercise.program.read_text(encoding="utf-8", errors="replace")) is not None
    return head + "\n".join(_test(case, names, shows) for case in exercise.cases) + _FOOT


def _test(case: Case, names: set[str], shows_windows: bool) -> str:
    name = "test_" + (re.sub(r"\W+", "_", case.name, flags=re.ASCII).strip("_").lower() or "case")
    while name in names:
        name += "_again"
    names.add(name)
    lines = [f"    def {name}(self):"]
    if shows_windows or case.acts or case.turns != OWN_TURNS:
        lines.append('        self.skipTest("It needs a desk, or an order of turns.")')
    elif case.call is not None and case.result is not None:
        lines += _gives(case.call, case.result)
    else:
        lines.append(f"        printed = run({list(case.arguments)!r}, {list(case.input)!r})")
        if case.output is not None:
            lines.append(f"        self.assertEqual(printed, {case.output.rstrip(chr(10))!r})")
        if case.pattern is not None:
            pattern = ".*".join(re.escape(part) for part in case.pattern.rstrip("\n").split("*"))
            lines.append(f'        self.assertRegex(printed, re.compile({pattern!r} + r"\\Z", re.DOTALL))')
    return "\n".join(lines) + "\n"


def _gives(call: str, result: str) -> list[str]:
    """What a call should give. An exercise may come from anywhere: nothing but a value gets into the file as code."""
    value = read_value(result)
    if value is None:
        return [f"        self.fail({f'{result} is no value'!r})"]
    return [
        f"        gave = eval({call!r}, definitions())",
        f"        self.assertEqual(gave, {value[0]!r})",
        f"        self.assertIs(type(gave), type({value[0]!r}))",
    ]
