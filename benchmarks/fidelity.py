"""CPython's own tests as a judge: each module bare and through the recorder, its outcome compared test by test.

`third` stands for every third module, which is what the judge of versions (`pythons`) takes; after `confined`, programs
are confined as from the window.
"""

from __future__ import annotations

import importlib.util
import re
import subprocess
import sys
import tempfile
from pathlib import Path

from benchmarks.test_by_test import Verdict, differences, judged

TIMEOUT_SECONDS = 1_800

#: What is run when no modules are named: language, built-in types, and libraries written in Python.
MODULES = [
    "asdl_parser",
    "augassign",
    "baseexception",
    "base64",
    "binascii",
    "binop",
    "bisect",
    "bool",
    "bufio",
    "calendar",
    "call",
    "cmath",
    "code",
    "collections",
    "colorsys",
    "compare",
    "complex",
    "contains",
    "context",
    "contextlib",
    "contextlib_async",
    "copy",
    "coroutines",
    "csv",
    "dataclasses",
    "decimal",
    "decorators",
    "defaultdict",
    "deque",
    "descr",
    "dict",
    "dictviews",
    "difflib",
    "dis",
    "dynamic",
    "dynamicclassattribute",
    "enumerate",
    "eof",
    "except_star",
    "exception_group",
    "exception_hierarchy",
    "exceptions",
    "extcall",
    "fileinput",
    "float",
    "fnmatch",
    "fractions",
    "fstring",
    "funcattrs",
    "functools",
    "future_stmt",
    "generator_stop",
    "generators",
    "genericalias",
    "genericclass",
    "genexps",
    "getopt",
    "global",
    "glob",
    "grammar",
    "graphlib",
    "hash",
    "heapq",
    "html",
    "htmlparser",
    "index",
    "inspect",
    "int",
    "isinstance",
    "iter",
    "iterlen",
    "itertools",
    "keyword",
    "keywordonlyarg",
    "linecache",
    "list",
    "listcomps",
    "longexp",
    "math",
    "memoryview",
    "metaclass",
    "module",
    "named_expressions",
    "netrc",
    "numeric_tower",
    "opcodes",
    "operator",
    "ordered_dict",
    "patma",
    "pep646_syntax",
    "pkgutil",
    "positional_only_arg",
    "posixpath",
    "pow",
    "pprint",
    "print",
    "property",
    "pyclbr",
    "queue",
    "quopri",
    "raise",
    "random",
    "range",
    "re",
    "reprlib",
    "richcmp",
    "sched",
    "scope",
    "secrets",
    "set",
    "setcomps",
    "shelve",
    "shlex",
    "slice",
    "sort",
    "statistics",
    "string",
    "string_literals",
    "strtod",
    "struct",
    "structseq",
    "subclassinit",
    "super",
    "syntax",
    "tabnanny",
    "textwrap",
    "timeit",
    "tokenize",
    "traceback",
    "tuple",
    "typechecks",
    "unary",
    "unicode_identifiers",
    "unpack",
    "unpack_ex",
    "urlparse",
    "userdict",
    "userlist",
    "userstring",
    "weakref",
    "weakset",
    "with",
    "wsgiref",
    "xml_dom_minicompat",
    "yield_from",
    "zipapp",
]

#: How the tests are recorded.
HOW: list[str] = []

_RESULT = re.compile(
    r"^(\w+ \([\w.]+\)).*?\.\.\. ?(?:.*?)(ok|FAIL|ERROR|skipped .*|expected failure|unexpected success)$"
)


def outcome(command: list[str]) -> dict[str, str] | str:
    """Each test's outcome, or why there is none."""
    with tempfile.TemporaryDirectory() as folder:
        try:
            done = subprocess.run(
                command,
                capture_output=True,
                text=True,
                errors="replace",
                cwd=folder,
                timeout=TIMEOUT_SECONDS,
                check=False,
            )
        except subprocess.TimeoutExpired:
            return "no end in time"
    found = {match[1]: match[2].split(" ")[0] for line in done.stderr.splitlines() if (match := _RESULT.match(line))}
    summary = [line for line in done.stderr.splitlines() if re.match(r"Ran \d+ tests?", line)]
    if not summary:
        return "did not run: " + done.stderr.strip().rpartition("\n")[2][:200]
    found["(all)"] = summary[-1].partition(" in ")[0]
    return found


def judge(module: str) -> Verdict | None:
    """The verdict on a module; None where its tests do not run plainly."""
    name = f"test.test_{module}"
    if importlib.util.find_spec(name) is None:  # not in this version
        return None
    bare = outcome([sys.executable, "-m", "unittest", "-v", name])
    if isinstance(bare, str):
        return None
    with tempfile.TemporaryDirectory() as folder:
        record = ["-m", "eelgrass.cli", "record", "--max-steps", "0", "-o", str(Path(folder) / "x.eelrec"), *HOW]
        ours = outcome([sys.executable, *record, "--open-library", name, "-m", "unittest", "-v", name])
    differing = [ours] if isinstance(ours, str) else differences(bare, ours)
    return Verdict(f"test_{module}", len(bare) - 1, differing)


def main(modules: list[str]) -> int:
    """Prints the verdict on each module; gives the number of modules that differ, or of names that are none."""
    if modules == ["third"]:
        modules = [its for its in MODULES[::3] if importlib.util.find_spec(f"test.test_{its}") is not None]
    if modules[:1] == ["confined"]:
        HOW.append("--confined")
        modules = modules[1:]
    modules = [module.removeprefix("test_") for module in modules]
    unknown = [module for module in modules if importlib.util.find_spec(f"test.test_{module}") is None]
    if unknown:
        print(f"CPython has no test_{', no test_'.join(unknown)} here.", file=sys.stderr)
        return len(unknown)
    return judged(modules or MODULES, judge, "modules")


if __name__ == "__main__":
    sys.exit(min(main(sys.argv[1:]), 1))
