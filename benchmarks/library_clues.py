"""Clues of sound programs that nobody of us wrote: modules of Python's own library, each used as one's own module.

`./bench library_clues` prints every clue of strength 0.5 or more; each is false, or says something of that module.
`./bench library_clues STEPS` does the same with each use again and again, until it is stopped after so many steps, and
says how long that takes; a loop that does not end is one of the clues then, and no false one."""

from __future__ import annotations

import importlib
import sys
import tempfile
import textwrap
from pathlib import Path

from benchmarks.measure import machine, timed_ms
from eelgrass.reading.clues.clue import LIKELY, Clue
from eelgrass.reading.clues.finding import find_clues
from eelgrass.reading.recording import Recording
from eelgrass.runs.order import Order
from eelgrass.runs.run import Run

_MOST_STEPS = 400_000
_ENDLESS = "no-end-in-sight"
#: By module, what is done with it, as `its`.
_USES = {
    "statistics": "print(its.mean([1, 2, 3, 4]), its.median([3, 1, 2]), its.quantiles([1, 2, 3, 4, 5]))",
    "heapq": "h = [5, 3, 8, 1]\nits.heapify(h)\nprint(its.heappop(h), list(its.merge([1, 4], [2, 3])))",
    "textwrap": "print(its.fill('the tide comes in', 9), its.dedent('  a\\n  b'), its.shorten('two crabs', 6))",
    "fractions": "print(its.Fraction(3, 4) + its.Fraction('1/3'), its.Fraction(1.5).limit_denominator(10))",
    "calendar": "print(its.month(2031, 5), its.monthrange(2031, 2), its.TextCalendar(6).formatyear(2031)[:50])",
    "difflib": "print(list(its.ndiff(['a\\n'], ['b\\n'])), its.get_close_matches('crab', ['crabs', 'cab', 'eel']))",
    "bisect": "a = [1, 3, 5]\nprint(its.bisect(a, 3))\nits.insort(a, 4)\nprint(a)",
    "string": "print(its.Template('$who sails').substitute(who='Ada'), its.capwords('low tide'))",
    "graphlib": "print(list(its.TopologicalSorter({'a': {'b'}, 'b': {'c'}}).static_order()))",
    "colorsys": "print(its.rgb_to_hsv(0.2, 0.4, 0.4), its.hsv_to_rgb(0.5, 0.5, 0.4), its.rgb_to_hls(0.1, 0.2, 0.3))",
    "shlex": "print(its.split('a \"b c\" d'))",
    "queue": "q = its.PriorityQueue()\nq.put(3)\nq.put(1)\nprint(q.get(), q.qsize())",
    "reprlib": "print(its.repr(list(range(100))))",
    "pprint": "its.pprint({'a': list(range(40)), 'b': {'c': 'd' * 50}})",
    "copy": "a = [[1], [2]]\nb = its.deepcopy(a)\nc = its.copy(a)\nprint(b, c)",
    "fnmatch": "print(its.filter(['a.py', 'b.txt'], '*.py'))",
    "configparser": "c = its.ConfigParser()\nc.read_string('[a]\\nb=1\\nc=%(b)s2')\nprint(c['a']['c'], c.sections())",
    "csv": "import io\nprint(list(its.DictReader(io.StringIO('a,b\\n1,2\\n'))))",
    "random": "r = its.Random(3)\nx = [1, 2, 3]\nr.shuffle(x)\nprint(r.sample(range(10), 3), x, r.gauss(0, 1))",
    "datetime": "print(its.date(2031, 5, 4) + its.timedelta(days=40), its.datetime(2031, 1, 2, 3).isoformat())",
    "ipaddress": "print(list(its.ip_network('10.0.0.0/29').hosts()), its.ip_address('::1').is_loopback)",
    "cmd": "print(its.Cmd().parseline('sow beds 3'))",
    "numbers": "print(isinstance(3, its.Integral))",
    "tabnanny": "print(its.Whitespace('  \\t a').longest_run_of_spaces())",
    "gettext": "print(its.gettext('tide'), its.c2py('n != 1')(2))",
    "sched": "print(its.scheduler().empty())",
    "zipapp": "print(its.MAIN_TEMPLATE)",
    "netrc": "print(its._netrclex)",
    "rlcompleter": "print(its.Completer({'tide': 1}).complete('ti', 0))",
    "posixpath": "print(its.join('a', 'b'), its.normpath('a/../b'), its.relpath('/a/b', '/a/c'))",
}


def main() -> None:
    """Runs each use on a copy of the module, and prints what is said of it."""
    most = int(sys.argv[1]) if len(sys.argv) > 1 else 0
    print(machine())
    likely = steps = 0
    with tempfile.TemporaryDirectory() as made:
        for name, use in _USES.items():
            source = Path(importlib.import_module(name).__file__ or "").read_text()
            folder = Path(made) / name
            folder.mkdir()
            (folder / f"own_{name}.py").write_text(source)
            body = f"while True:\n{textwrap.indent(use, '    ')}" if most else use
            (folder / "main.py").write_text(f"import own_{name} as its\n{body}\n")
            run = Run(Order(folder / "main.py", max_steps=most or _MOST_STEPS))
            run.start()
            trace = run.wait()
            recording, clues = Recording(trace), list[Clue]()
            recording.prepare()
            took = timed_ms(lambda recording=recording, clues=clues: clues.extend(find_clues(recording)))  # type: ignore[misc]
            clues = [its for its in clues if its.strength >= LIKELY and not (most and its.kind == _ENDLESS)]
            how = f"{trace.outcome.outcome}, {took:.0f} ms"
            print(f"{name}, {len(trace.steps):,} steps, {how}: {len(clues)} clues", flush=True)
            for its in clues:
                print(f"    {its.kind}, line {its.line} of {Path(its.file).name}: {its.text}")
            likely, steps = likely + len(clues), steps + len(trace.steps)
    print(f"{likely} clues in {len(_USES)} programs of {steps:,} steps")


if __name__ == "__main__":
    main()
