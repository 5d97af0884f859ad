"""Threads that take turns: queues, locks, events, and a pool."""
import queue
import threading
from concurrent.futures import ThreadPoolExecutor

readings, lock, ready = queue.Queue(), threading.Lock(), threading.Event()
seen = []


def measure(name, turns):
    for turn in range(turns):
        readings.put((name, turn))
    ready.set()


def collect(count):
    for _ in range(count):
        place, turn = readings.get()
        with lock:
            seen.append(f"{place}{turn}")
    return len(seen)


collector = threading.Thread(target=collect, args=(5,), name="collector")
collector.start()
boats = [threading.Thread(target=measure, args=(name, size)) for name, size in (("reef", 2), ("mud", 3))]
for boat in boats:
    boat.start()
for boat in [*boats, collector]:
    boat.join()
print(sorted(seen), ready.is_set())


def weigh(load):
    total = 0
    for part in range(load):
        total += part
    return total


with ThreadPoolExecutor(2) as pool:
    print(list(pool.map(weigh, [3, 4])), threading.current_thread().name)
spun = False


def spin():
    global spun
    while not spun:
        pass


waiting = threading.Thread(target=spin)
waiting.start()
spun = True
waiting.join()
print("end")
