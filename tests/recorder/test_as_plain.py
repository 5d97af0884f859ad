"""What the interpreter itself decides is as in a plain run: recursion, threads, lifetimes, signals."""

from __future__ import annotations

import re
import subprocess
import sys
from pathlib import Path

import pytest
from support import threaded
from support.judges import AS_PLAIN, plain, run

from eelgrass.trace.files import recording_file

#: Programs that go on for ever, through code in C.
ENDLESS = {
    "prints as it goes": """
import sys
def count(n):
    print("dive", n, [n])
    sys.stdout.write(f"{n}\\n")
    return 1 + count(n + 1)
try: count(1)
except RecursionError as e: print("stop", e)
class Tag:
    def __init__(self, n): self.n = n; print(self); Tag(n+1)
    def __str__(self): return f"T{self.n}"
Tag(1)
""",
    "objects that make objects": """
class A:
    def __init__(self):
        self.b = A()
A()
""",
    "a repr of a ring": """
class Node:
    def __init__(self, v): self.v=v; self.next=None
    def __repr__(self): return f"Node({self.v}, {self.next!r})"
a=Node(1); b=Node(2); a.next=b; b.next=a
print(a)
""",
    "an __eq__ that compares": """
class E:
    def __init__(self): self.o=self
    def __eq__(self, other): return self.o == other.o
print(E()==E())
""",
    "lru_cache": """
from functools import lru_cache
@lru_cache(maxsize=None)
def fib(n): return fib(n-1)+fib(n-2)
print(fib(5))
""",
    "a comprehension": """
def f(n): return [f(n+1) for _ in range(1)]
f(0)
""",
    "sorted by a key": """
def key(x): return sorted([x], key=key)
key(1)
""",
    "map": """
def f(x): return list(map(f, [x]))
try:
    f(1)
except RecursionError as e:
    print("caught", e)
f(1)
""",
    "any of a generator": """
def f(x): return any(f(y) for y in [x])
f(1)
""",
    "a property setter": """
class P:
    @property
    def x(self): return self._x
    @x.setter
    def x(self, v): self.x = v
p=P(); p.x=1
""",
    "__call__ and __bool__": """
class C:
    def __call__(self, n): return C()(n+1)
    def __bool__(self): return not self
c=C()
try: c(1)
except RecursionError as e: print(e)
if c: print(1)
""",
    "a str of a ring": """
class Node:
    def __init__(self, v): self.v=v; self.next=None
    def __str__(self): return str(self.v)+" -> "+str(self.next)
a=Node(1); b=Node(2); a.next=b; b.next=a
print(str(a)[:10])
""",
    "__getattr__": """
class G:
    def __getattr__(self, name): return getattr(self, name+"x"[:0])
print(G().foo)
""",
}
OTHERS = {
    "exceptions through generator expressions leave nothing": """
def ok(xs):
    try:
        return all(int(x) >= 0 for x in xs)
    except ValueError:
        return False
for i in range(1500):
    ok(["1","x"])
def deep(n): return 0 if n==0 else 1+deep(n-1)
print(deep(900))
""",
    "yield from 600 deep": """
def gen(n):
    if n == 0:
        yield 1
        yield 2
    else:
        yield from gen(n-1)
print(list(gen(600)))
""",
    "a signal handler with a timer": """
import signal,time
hits=[]
def tick(sig, frame): hits.append(len(hits))
signal.signal(signal.SIGALRM, tick)
signal.setitimer(signal.ITIMER_REAL, 0.001, 0.001)
x=0
while len(hits)<50:
    x+=1
signal.setitimer(signal.ITIMER_REAL,0)
print(len(hits)>=50)
""",
    "a signal handler in the middle of what is told": """
import signal
hits = {}
def tick(number, frame):
    hits[frame.f_lineno] = hits.get(frame.f_lineno, 0) + 1
class Tag(str):
    pass
class Bed:
    def __init__(self, name):
        self.name = name
def work():
    found, beds = [], [Bed(n) for n in range(5)]
    for n in range(4000):
        its = (beds[n % 5], Tag(n))
        found.append(its)
        found.append((its, n, "mud"))
        if n % 9 == 0:
            found.clear()
    return len(found)
signal.signal(signal.SIGPROF, tick)
signal.setitimer(signal.ITIMER_PROF, 0.0002, 0.0002)
print(work())
signal.setitimer(signal.ITIMER_PROF, 0)
print(signal.getsignal(signal.SIGPROF) is tick)
""",
    "a signal handler for which an iterator waits": """
import signal, threading, time
came = []
def tick(number, frame):
    came.append(frame.f_code.co_name)
class Slow:
    def __iter__(self):
        while not came:  # only the handler ends this
            pass
        return iter([1, 2])
signal.signal(signal.SIGALRM, tick)
signal.setitimer(signal.ITIMER_REAL, 0.05)
print(sum(n for n in Slow()), came)
""",
    "threads of lambdas": """
import threading
done=[]
t=threading.Thread(target=lambda: done.append(1)); t.start(); t.join()
from concurrent.futures import ThreadPoolExecutor
def work():
    with ThreadPoolExecutor(2) as pool:
        print(sorted(pool.map(lambda x: x*x, range(5))))
work()
for i in range(2):
    with ThreadPoolExecutor() as ex:
        ex.submit(done.append, i)
print(done)
""",
    "threads and more than one list of events": """
import threading
total=[0]; lock=threading.Lock()
def add(n):
    for i in range(n):
        with lock:
            total[0]+=1
ts=[threading.Thread(target=add,args=(3000,)) for _ in range(3)]
for t in ts: t.start()
for t in ts: t.join()
print(total)
""",
    "what is stored is gone at once": """
class Eel:
    def __init__(self, pool):
        self.pool = pool

    def __del__(self):
        self.pool.clear()


pool = {}
pool["a"] = Eel(pool)
pool["a"] = 1
print(pool)
row = [0]
row[0] = Eel(row)
row[0] = 2
print(row)


class Tank:
    pass


tank = Tank()
tank.eel = Eel(vars(tank))
tank.eel = 3
print(vars(tank))
pool = {"k": None}
pool["k"] = Eel(pool)
del pool["k"]
print(pool)
pool["k"] = Eel(pool)
pool["k"] = pool["k"] = 4
print(pool)
""",
    "files are closed when nobody has them": """
try:
    f = open("out.txt","w"); f.write("tide"); fs=[f]; del f, fs
except ValueError: pass
print(open("out.txt").read())
def save():
    with_list = [open("out2.txt","w")]
    with_list[0].write("reef")
save()
print(open("out2.txt").read())
def fail():
    g=open("out3.txt","w"); g.write("mud"); raise ValueError(g)
try: fail()
except ValueError: pass
print(open("out3.txt").read())
""",
    "lifetimes": """
import weakref, tempfile, os, sys, gc
class W: pass
w=W(); r=weakref.ref(w); xs=[w]; del w; print(r() is not None); xs.clear(); print(r() is None)
def use():
    files=[open("z%d.txt"%i,"w") for i in range(3)]
    for f in files: f.write("tide")
use()
print([open("z%d.txt"%i).read() for i in range(3)])
ids=set()
for i in range(100):
    x=[i]; ids.add(id(x))
print(len(ids)<=3)
def g():
    try: yield 1
    finally: print("closed")
gs=[g()]; next(gs[0]); gs=None
print("after")
print(sys.getrefcount(xs))
t=tempfile.TemporaryFile(); d={"f":t}; fd=t.fileno(); del t; d=None
try: os.fstat(fd); print("open")
except OSError: print("shut")
""",
    "errors in the streams": """
import sys, traceback
sys.stdout.reconfigure(encoding="utf-8", errors="strict")
for do in (lambda: print("\\udc80"), lambda: sys.stdout.write(5), lambda: sys.stdin.readline("x"),
           lambda: sys.stdin.read(1, 2), lambda: next(sys.stdin), lambda: print(1 / 0)):
    try: do()
    except Exception: traceback.print_exc()
print([*sys.stdin])
print("\\udc80")
""",
    "a module that is no program": """
for attempt in range(3):
    pass
import broken
""",
    "a sum of 2,500 terms": f"""
def catch(day): return day
print({" + ".join(["catch(1)"] * 2_500)})
""",
}


#: Packages by the names of their files, for `-m`.
PACKAGES = {
    "reef/__init__.py": "print(__name__)\nfrom . import tides",
    "reef/tides.py": "print(__name__)\ndef down(n):\n    return down([n])\nif __name__ == '__main__': down(0)",
    "reef/__main__.py": "import traceback, sys\nfrom reef import tides\ntraceback.print_stack()\ntides.down(sys.argv)",
    "reef/broken.py": "def (",
    "pier/__init__.py": "def down(n):\n    return down(n + 1)\ndown(0)",
}


@pytest.mark.skipif(not AS_PLAIN, reason="as below")
@pytest.mark.parametrize("module", ["reef", "reef.tides", "reef.broken", "reef.none", "none", "pier.x", ".x", "math"])
def test_a_module_is_run_as_by_the_interpreter(module: str, tmp_path: Path) -> None:
    for name, text in PACKAGES.items():
        (tmp_path / name).parent.mkdir(exist_ok=True)
        (tmp_path / name).write_text(text)
    bare, ours = (
        subprocess.run([sys.executable, *how, "-m", module, "-x"], cwd=tmp_path, capture_output=True, check=False)
        for how in (["-B"], ["-m", "eelgrass.cli", "record", "-o", str(tmp_path / "run.eelrec")])
    )
    assert (ours.stdout, ours.stderr, ours.returncode) == (bare.stdout, bare.stderr, bare.returncode)
    assert (len(recording_file.load(tmp_path / "run.eelrec").steps) > 5) == (module[0] in "rp")


#: From 3.14 on it depends on the size of frames how often an object is made by the interpreter's shorter way, which
#: takes more of the call stack's units: how deep these come differs by some levels.
CONSTRUCTING = ("prints as it goes", "objects that make objects")


def _without_counts(done: subprocess.CompletedProcess[bytes]) -> tuple[set[bytes], list[bytes], int]:
    """What a run shows, but for how often."""
    lines = [re.sub(rb"\d+", b"N", text).splitlines() for text in (done.stdout, done.stderr)]
    return {*lines[0]}, lines[1][-1:], done.returncode


@pytest.mark.skipif(not AS_PLAIN, reason="hooks that are not compiled take room on the call stack, and hold lists")
@pytest.mark.parametrize("title", [*ENDLESS, *OTHERS])
def test_what_the_interpreter_decides_is_as_in_a_plain_run(
    title: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    program = tmp_path / "program.py"
    (tmp_path / "broken.py").write_text("def (")
    program.write_text({**ENDLESS, **OTHERS}[title])
    monkeypatch.chdir(tmp_path)
    bare = plain(program)
    command = [sys.executable, "-m", "eelgrass.cli", "record", "-o", str(tmp_path / "run.eelrec")]
    ours = run(command, program)
    if title in CONSTRUCTING and sys.version_info >= (3, 14):
        assert _without_counts(ours) == _without_counts(bare)
    else:
        assert (ours.stdout, ours.stderr, ours.returncode) == (bare.stdout, bare.stderr, bare.returncode)
    assert title not in ENDLESS or b"RecursionError" in bare.stderr or b"recursion" in bare.stdout
    assert len(recording_file.load(tmp_path / "run.eelrec").steps) > 5


@pytest.mark.parametrize("title", threaded.PROGRAMS)
def test_each_thread_does_what_it_does_plainly(title: str, tmp_path: Path) -> None:
    threaded.judge(title, tmp_path, threaded.told_by_oracle(title, tmp_path))
