"""Two keepers tally the eels of one morning, each at a trap of their own."""

import threading

tally = 0
tally_lock = threading.Lock()


def count(trap):
    global tally
    for catch in trap:
        with tally_lock:
            seen = tally
            tally = seen + catch


gull = threading.Thread(target=count, args=([3, 1, 4],), name="gull")
tern = threading.Thread(target=count, args=([2, 5],), name="tern")
gull.start()
tern.start()
gull.join()
tern.join()
print("eels:", tally)
