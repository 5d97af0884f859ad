"""Looking never changes the program (X1), and the program sees nothing of ours (X2)."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

import pytest
from conftest import Record

from eelgrass.reading.stack.rows import ValueRow
from eelgrass.reading.state import insides

SHOUTING = """\
import functools, types
def shout(name):
    def method(self, *rest):
        print("called", name)
        raise RuntimeError(name)
    return method

names = ["__repr__", "__str__", "__eq__", "__hash__", "__len__", "__bool__", "__iter__", "__getitem__", "__contains__",
         "__getattr__", "__index__", "__format__", "__lt__", "__dir__", "__sizeof__", "__reduce__", "__class_getitem__"]
Noisy = type("Noisy", (), {name: shout(name) for name in names})
Keys = type("Keys", (dict,), {name: shout(name) for name in names if name != "__hash__"})
Rows = type("Rows", (list,), {name: shout(name) for name in names})

class Guarded:
    def __init__(self):
        object.__setattr__(self, "shell", 1)
    @property
    def tag(self):
        print("property read")
    @tag.setter
    def tag(self, value):
        object.__setattr__(self, "shell", value)
    def __getattribute__(self, name):
        print("getattribute", name)
        return object.__getattribute__(self, name)

class Meta(type):
    def __hash__(cls):
        print("hash of a class")
        return 1
    def __instancecheck__(cls, other):
        print("instancecheck")
    def __subclasscheck__(cls, other):
        print("subclasscheck")

class Odd(metaclass=Meta):
    __class__ = property(lambda self: print("class asked"))

noisy, keys, rows, guarded, odd = Noisy(), Keys(), Rows(), Guarded(), Odd()
held = [noisy, keys, {"key": rows}, (odd, guarded)]
list.append(rows, noisy)
dict.__setitem__(keys, "a", noisy)
held[0] = odd
held.append(noisy)
guarded.tag = noisy
odd.field = keys
try:
    raise type("Loud", (Exception,), {"__str__": shout("str"), "__repr__": shout("repr")})(noisy)
except Exception as error:
    caught = error
def hand_on(first, *rest, **more):
    return first
hand_on(noisy, keys, rows=rows)
class Shelf(Rows):
    def append(self, item):
        super().append(item)
    def pop(self, *place):
        return super().pop(*place)
class Chart(Keys):
    def __setitem__(self, key, value):
        super().__setitem__(key, value)
    def setdefault(self, key, value):
        return super().setdefault(key, value)
Marks = type("Marks", (set,), {name: shout(name) for name in names if name != "__hash__"})
class Tags(Marks):
    def add(self, tag):
        super().add(tag)
class Loudly:
    def __getattr__(self, name):
        print("getattr", name)
        raise AttributeError(name)
    def __call__(self, *given):
        return given
shelf, chart, tags, loudly = Shelf(range(30)), Chart({n: n for n in range(30)}), Tags(range(90)), Loudly()
put, take, give, note = shelf.append, list(held).pop, chart.setdefault, tags.add
for n in range(4):
    shelf.append(noisy)
    put(n)
    chart[f"{n}"] = noisy
    give(f"{n}s", noisy)
    tags.add(n + 200)
    note(n + 300)
    types.MethodType(loudly, noisy)(n)
    functools.partial(loudly, 1)(n)
    call = loudly
    call(n)
    list(map(put, [1]))
fields = object.__getattribute__(guarded, "__dict__")
fields["late"] = noisy
space = type("Space", (dict,), {"get": shout("get")})()
exec("inner = lambda: 1", space)
dict.__getitem__(space, "inner")()
print("quiet")
"""


@pytest.mark.parametrize("first", ["", "import gc\n"], ids=["held", "where nothing is held"])
def test_nothing_of_the_programs_own_runs_because_of_us(record: Record, first: str) -> None:
    recording = record(first + SHOUTING)
    assert "".join(recording.trace.texts.pieces) == "quiet\n"
    assert recording.trace.outcome.outcome == "finished"
    rows = {row.name: row for row in recording.stack_rows.at(recording.stepping.last())[0].rows}
    assert rows["guarded"].type_word == "Guarded"


SPY = """\
import gc, sys, threading
level = 1
def measure(place):
    before = sorted(locals())
    reading = place + level
    return before, sorted(locals()), sorted(vars())
print(sorted(globals()), measure(2), dir())
print(sorted(name for name in dir(__builtins__) if "eel" in name.lower()))
print(sys.argv, __name__, __file__, __doc__, __spec__, __package__, sys.path[0])
print([thread.name for thread in threading.enumerate()], sys.getswitchinterval(), sys.gettrace(), sys.getprofile())
print(measure.__code__.co_varnames, measure.__code__.co_firstlineno, measure.__code__.co_flags)
print(sys.stdout.encoding, sys.stdout.errors, sys.stdout.name, sys.stdout.mode, sys.stdout.isatty(), sys.stdin.mode)
print(type(sys.stdout).__name__, isinstance(sys.stdout, type(sys.stdin)), sys.stdout is sys.__stdout__)
import inspect, traceback, warnings
print(sorted(sys.modules), sys.getrecursionlimit(), sys._getframe().f_back, len(gc.callbacks))
def deeper():
    traceback.print_stack(file=sys.stdout)
    warnings.warn("shallow", stacklevel=2)
    return [(place.function, place.lineno) for place in inspect.stack()], sys.gettrace()
print(deeper(), open(__file__).fileno(), open.__module__)
def raiser():
    raise ValueError("low")
try:
    raiser()
except ValueError as error:
    trace = error.__traceback__
    while trace:
        print(trace.tb_frame.f_code.co_name, trace.tb_lineno)
        trace = trace.tb_next
"""


def test_a_program_that_looks_for_us_finds_what_a_plain_run_shows(tmp_path: Path) -> None:
    program = tmp_path / "spy.py"
    program.write_text(SPY)

    def run(*command: str) -> str:
        whole = [sys.executable, *command, "spy.py", "one"]
        return subprocess.run(whole, capture_output=True, text=True, cwd=tmp_path, check=True, timeout=60).stdout

    assert run("-m", "eelgrass.cli", "record") == run("-B")


def test_a_function_with_hooks_keeps_its_documentation_signature_and_annotations(record: Record) -> None:
    recording = record(
        "from __future__ import annotations\nimport inspect\n\n"
        "def berth(boat: str, *, tide: float = 1.5) -> int:\n    'Where a boat lies.'\n    return 4\n"
        "print(berth.__doc__, inspect.signature(berth), berth.__annotations__, inspect.getsource(berth))\n"
    )
    assert recording.trace.texts.pieces[0].startswith("Where a boat lies.")
    assert "(boat: 'str', *, tide: 'float' = 1.5) -> 'int'" in "".join(recording.trace.texts.pieces)
    assert "'Where a boat lies.'" in "".join(recording.trace.texts.pieces)


@pytest.mark.parametrize(
    "text",
    [
        "beds = [0] * 3\nfor place, beds[place] in enumerate('abc'):\n    pass\nprint(beds)\n",
        "def key():\n    print('key')\n    return 0\ndef value():\n    print('value')\n    return 1\n"
        "rows = [5]\nrows[key()] = value()\nrows[key()] += value()\nrows[-1], rows[key()] = 8, 9\nprint(rows)\n",
        "index = 0\nrows = [1, 2]\nindex, rows[index] = 1, 7\nindex = rows[index] = 0\nprint(index, rows)\n",
        "def move():\n    global at\n    at = 1\n    return 5\nat = 0\nrows = [1, 2]\n"
        "rows[at] += move()\nprint(rows, at)\n",
        "class Bed:\n    shoots = 1\nbed = Bed()\nbed.shoots += 1\nBed.shoots += 5\nprint(bed.shoots, Bed.shoots)\n",
        "with open(__file__) as file, open(__file__) as second:\n    a, *b = file.readline(), 1, 2\nprint(a, b)\n",
    ],
)
def test_parts_with_side_effects_are_worked_out_once_and_in_order(record: Record, tmp_path: Path, text: str) -> None:
    recording = record(text)
    program = tmp_path / "plain.py"
    program.write_text(text)
    bare = subprocess.run([sys.executable, str(program)], capture_output=True, text=True, check=True, timeout=60)
    assert "".join(recording.trace.texts.pieces) == bare.stdout.replace("plain.py", "program.py")
    last = recording.stack_rows.at(recording.stepping.last())[0].rows
    shown = {row.name: row.text or str([cell.text for cell in row.cells]) for row in last if isinstance(row, ValueRow)}
    if "rows" in shown:
        assert shown["rows"].replace("'", "") in bare.stdout


def test_methods_that_are_kept_put_nothing_into_a_history_that_was_never_there(record: Record) -> None:
    recording = record(
        "seen, shoots = set(range(80)), {f'k{n}': n for n in range(30)}\n"
        "adding, dropping = seen.add, {'d': seen.discard}\n"
        "putting, taking, last = shoots.setdefault, shoots.pop, shoots.popitem\n"
        "adding(500)\ndropping['d'](1)\nputting('new', 'mud')\ntaking('k1')\nlast()\nlast()\nend = 0\n"
    )
    trace = recording.trace
    numbers = range(len(trace.objects))
    (seen,) = (number for number in numbers if trace.objects.type_of(number) == "set")
    (shoots,) = (n for n in numbers if trace.objects.type_of(n) == "dict" and len(trace.histories.of_object(n)) > 20)
    ever = {
        number: {trace.values.get(int(trace.slots.key[slot])) for slot in trace.histories.of_object(number)}
        for number in (seen, shoots)
    }
    assert ever == {seen: {*range(80), 500}, shoots: {*(f"k{n}" for n in range(30)), "new"}}
    assert insides.elements(trace, seen, len(trace.steps)).keys.size == 80
    assert insides.elements(trace, shoots, len(trace.steps)).keys.size == 28
