"""Threads that wait for one another, one after the other."""
import queue
import threading
done = []
def count(name, turns):
    for turn in range(turns):
        done.append((name, turn))
first = threading.Thread(target=count, args=("reef", 2))
first.start()
first.join()
second = threading.Thread(target=count, args=("mud", 2))
second.start()
second.join()
print(done)
