"""What one thread wrote, and another overwrote by what it had read before."""

from __future__ import annotations

from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.threads.races import races


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each race: the three moments that it is made of."""
    for race in races(facts.recording) if facts.trace.frames.thread.any() else ():
        sites = [facts.site_at(step) for step in (race.read, race.between, race.wrote)]
        reading, between, writing = sites
        if reading is None or between is None or writing is None:
            continue
        yield Sighting(
            writing.number,
            0.9,
            {"told": race.text[:1].upper() + race.text[1:]},
            (
                Evidence(race.read, "One thread reads.", (Ran(reading.number, race.read),)),
                Evidence(race.between, "Another writes.", (Ran(between.number, race.between),)),
                Evidence(race.wrote, "The first writes by what it had read.", (Ran(writing.number, race.wrote),)),
            ),
        )


KIND = Kind(
    "lost-update",
    "Written over by another thread",
    "{told} Should nobody else come in between?",
    "a thread wrote, or decided, by what it had read before another thread wrote",
    "strong",
    """\
import threading
import time
tally = 0
def count(catch):
    global tally
    seen = tally
    time.sleep(0.1)
    tally = seen + catch #!
keepers = [threading.Thread(target=count, args=(n,)) for n in (3, 4)]
for keeper in keepers:
    keeper.start()
for keeper in keepers:
    keeper.join()
print("eels:", tally)
""",
    """\
import threading
import time
tally = 0
lock = threading.Lock()
def count(catch):
    global tally
    with lock:
        seen = tally
        time.sleep(0.1)
        tally = seen + catch
keepers = [threading.Thread(target=count, args=(n,)) for n in (3, 4)]
for keeper in keepers:
    keeper.start()
for keeper in keepers:
    keeper.join()
print("eels:", tally)
""",
    find,
)
