"""The store is behind two doors. Both keepers need both keys."""

import threading
import time

boat_key = threading.Lock()
store_key = threading.Lock()
fetched = []


def fetch_oars():
    with boat_key:
        time.sleep(1)
        with store_key:
            fetched.append("oars")


def fetch_nets():
    with store_key:
        time.sleep(1)
        with boat_key:
            fetched.append("nets")


gull = threading.Thread(target=fetch_oars, name="gull")
tern = threading.Thread(target=fetch_nets, name="tern")
gull.start()
tern.start()
gull.join()
tern.join()
print("fetched:", ", ".join(sorted(fetched)))
