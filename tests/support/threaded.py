"""Programs with threads whose outcome is always the same, whatever turns are taken, and their judge."""

from __future__ import annotations

import ast
from collections import Counter
from collections.abc import Iterable
from pathlib import Path

from eelgrass.export import json_rows
from eelgrass.runs.order import OWN_TURNS, Turns
from eelgrass.trace.files import recording_file
from eelgrass.trace.model import Texts
from support.judges import photographs, plain
from support.runs import run_of

#: Threads that are there are begun, and waited for.
_ALL = """\
for thread in threads:
    thread.start()
for thread in threads:
    thread.join()
"""

_TEXTS = {
    "a lock": """\
import threading
tally, lock = {"eels": 0}, threading.Lock()
def count(trap, many):
    own = 0
    for catch in range(many):
        own += catch % 3
        with lock:
            tally["eels"] += catch % 3
    return own
threads = [threading.Thread(target=count, args=(trap, 300 + trap)) for trap in range(4)]
{start}print(tally)
""",
    "lambdas": """\
import threading
found = []
def weigh(crab):
    weight = crab * 11
    found.append(weight)
    return weight
threads = [threading.Thread(target=lambda crab=crab: weigh(crab) + weigh(crab + 100)) for crab in range(8)]
{start}print(sorted(found))
""",
    "a queue": """\
import queue
import threading
baskets, weighed = queue.Queue(maxsize=3), []
def haul(many):
    for basket in range(many):
        kilos = basket * basket % 17
        baskets.put(kilos)
    baskets.put(None)
def weigh():
    total = 0
    while (kilos := baskets.get()) is not None:
        total += kilos
    weighed.append(total)
threads = [threading.Thread(target=haul, args=(400,)), threading.Thread(target=weigh)]
{start}print(weighed)
""",
    "a condition": """\
import threading
tide, turned, said = ["low"], threading.Condition(), []
def wait(boat):
    with turned:
        turned.wait_for(lambda: tide[0] == "high")
    word = f"boat {boat} sails"
    said.append(word)
def turn():
    with turned:
        tide[0] = "high"
        turned.notify_all()
threads = [threading.Thread(target=wait, args=(boat,)) for boat in range(5)]
threads.append(threading.Thread(target=turn))
{start}print(sorted(said))
""",
    "a barrier": """\
import threading
meeting, rows = threading.Barrier(3), [[0] * 3 for _ in range(20)]
def row(place):
    for hour in range(20):
        pull = hour * (place + 1)
        rows[hour][place] = pull
        meeting.wait()
threads = [threading.Thread(target=row, args=(place,)) for place in range(3)]
{start}print(rows)
""",
    "a pool": """\
from concurrent.futures import ThreadPoolExecutor
def mean(levels):
    total = 0
    for level in levels:
        total += level
    return total / len(levels)
def all_means(days):
    with ThreadPoolExecutor(3) as pool:
        return list(pool.map(mean, days))
print(all_means([[day, day + 1, day * 2] for day in range(30)]))
with ThreadPoolExecutor() as pool:
    futures = [pool.submit(lambda reef=reef: reef ** 2) for reef in range(12)]
print([future.result() for future in futures])
""",
    "a timer": """\
import threading
rung = []
def ring(bell):
    word = f"bell {bell}"
    rung.append(word)
threads = [threading.Timer(0.001 * bell, ring, (bell,)) for bell in range(4)]
{start}print(sorted(rung))
""",
    "to_thread": """\
import asyncio
def sound(depth):
    echo = 0
    for ping in range(depth):
        echo += ping
    return echo
async def survey():
    return await asyncio.gather(*(asyncio.to_thread(sound, depth) for depth in range(40, 50)))
print(asyncio.run(survey()))
""",
    "an exception and locals": """\
import threading
own, kept = threading.local(), {}
def guard(post):
    own.post = post
    try:
        if post % 2:
            raise ValueError(f"post {post} is flooded")
        kept[post] = own.post
    except ValueError as error:
        kept[post] = str(error)
threads = [threading.Thread(target=guard, args=(post,)) for post in range(6)]
{start}print(sorted(kept.items()))
""",
    "recursion and generators": """\
import threading
sums = {}
def down(n):
    return 0 if n == 0 else n + down(n - 1)
def steps(n):
    for step in range(n):
        yield step * step
def work(n):
    total = 0
    for square in steps(n):
        total += square
    deep = down(60)
    sums[n] = total + deep
threads = [threading.Thread(target=work, args=(n,)) for n in (50, 70, 90, 110)]
{start}print(sorted(sums.items()))
""",
    "waiting in comprehensions and generators": """\
import queue
import threading
import time
weights, told = queue.Queue(), []
def give(crabs):
    for crab in range(crabs):
        time.sleep(0)
        weights.put(crab * 3)
    return crabs
def hours():
    for hour in range(20):
        time.sleep(0.0001)
        yield hour * 2
def walk():
    own = [time.sleep(0.0001) or hour + 1 for hour in range(20)]
    all_ = sum(hour + (time.sleep(0.0001) or 0) for hour in hours())
    told.append(sum(own) + all_)
def take(crabs):
    kilos = sum([weights.get() for _ in range(crabs)])
    told.append(kilos)
threads = [threading.Thread(target=give, args=(40,)), threading.Thread(target=take, args=(40,))]
threads += [threading.Thread(target=walk) for _ in range(3)]
{start}print(sorted(told))
""",
    "coroutines beside a thread": """\
import asyncio
import threading
import time
seen = []
def beside(many):
    for tide in range(many):
        time.sleep(0.0002)
    seen.append(tide)
async def steps(many):
    for step in range(many):
        await asyncio.sleep(0)
        yield step
async def walk(boat):
    total = 0
    async for step in steps(10):
        total += step * boat
    return total
async def all_boats():
    return await asyncio.gather(*(walk(boat) for boat in range(4)))
def run():
    print(asyncio.run(all_boats()))
threads = [threading.Thread(target=beside, args=(30,)), threading.Thread(target=run)]
{start}print(seen)
""",
    "bare threads": """\
import _thread
import sys
import threading
import time
def ignored(its):
    print(its.err_msg.partition(" <")[0], its.exc_value, its.exc_traceback.tb_frame.f_code.co_name)
sys.unraisablehook = ignored
done = []
def work(n):
    time.sleep(0.05 * (4 - n))
    done.append(n)
def fail():
    raise ValueError("no eels")
def leave():
    raise SystemExit
for n in range(4):
    _thread.start_new_thread(work, (n,))
while len(done) < 4:
    time.sleep(0.02)
print(done)
for its in (fail, leave):
    _thread.start_new_thread(its, ())
    time.sleep(0.3)
    print(_thread._count())
crew = [threading.Thread(target=time.sleep, args=(0.01,)) for _ in range(6)]
for its in (*crew, threading.Thread(target=work, args=(4,))):
    its.start()
for its in crew:
    its.join()
for lock in (threading.Lock(), threading.RLock()):
    for given in ((False, 1), (True, -2), (True, 1e300), ("a",), (True, None), (0,), (1, 0.5)):
        try:
            print(lock.acquire(*given))
            lock.release()
        except Exception as error:
            print(type(error).__name__, error)
""",
}

PROGRAMS = {name: text.replace("{start}", _ALL) for name, text in _TEXTS.items()}

#: In these, which thread takes which piece of work is nobody's to know.
_SHARED_OUT = ("a pool", "to_thread")
#: Of this one the slow recorder sees only what `threading` starts.
_HALF_SEEN = "bare threads"


def judge(name: str, folder: Path, expected: Counter[tuple[object, ...]], turns: Turns | None = OWN_TURNS) -> None:
    """Fails where a recorded run prints something else, cannot be opened, or has a thread do anything else than
    `expected`, which `told_by_oracle` gives."""
    program = folder / "threaded.py"
    program.write_text(PROGRAMS[name])
    trace = run_of(program, turns=turns)
    recording_file.save(trace, folder / "run.eelrec")
    trace = recording_file.load(folder / "run.eelrec")
    assert "".join(trace.texts.of(Texts.OUTPUT)) == plain(program).stdout.decode()
    assert trace.outcome.outcome == "finished"
    rows = (row for row in json_rows.dump(trace) if row["kind"] == "line")
    found = _by_thread(name, rows)
    assert expected <= found
    assert name == _HALF_SEEN or found == expected


def told_by_oracle(name: str, folder: Path) -> Counter[tuple[object, ...]]:
    """What the threads of a program do, as the slow recorder sees it."""
    program = folder / "threaded.py"
    program.write_text(PROGRAMS[name])
    return _by_thread(name, photographs(program, folder / "oracle.jsonl"))


def _by_thread(name: str, rows: Iterable[dict[str, object]]) -> Counter[tuple[object, ...]]:
    """How often a thread does a sequence of things; where work is shared out, how often anything is done."""
    threads: dict[object, list[object]] = {}
    for row in rows:
        if row["function"] not in ("<module>", "<listcomp>", "<genexpr>", "<lambda>"):
            threads.setdefault(row.get("in thread", row.get("thread")), []).append(
                (row["line"], row["function"], *_plain(row["variables"]))
            )
    if name in _SHARED_OUT:
        return Counter((one,) for told in threads.values() for one in told)
    return Counter(map(tuple, threads.values()))


def _plain(variables: object) -> list[tuple[str, str]]:
    """The variables that hold numbers and texts, which no other thread can change."""
    assert isinstance(variables, dict)
    told = ((name, its.get("text") if isinstance(its, dict) else its) for name, its in sorted(variables.items()))
    return [(name, text) for name, text in told if isinstance(text, str) and _is_plain(text)]


def _is_plain(text: str) -> bool:
    try:
        return isinstance(ast.literal_eval(text), (int, float, str))
    except (ValueError, SyntaxError):
        return False
