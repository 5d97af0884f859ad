"""Threads that wait for one another."""

from __future__ import annotations

from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.threads.waiting import threads_at


def find(facts: Facts) -> Iterator[Sighting]:
    """Of a run that was stopped while its threads waited in a circle: where each of them stands."""
    if not facts.trace.frames.thread.any() or facts.trace.outcome.outcome != "stopped":
        return
    told = threads_at(facts.recording, len(facts.trace.steps) - 1)
    circle = [told.states[place] for place in told.deadlock]
    first = facts.site_at(circle[0].last) if circle and circle[0].last >= 0 else None
    if first is not None:
        yield Sighting(
            first.number,
            0.95,
            {"told": told.text},
            tuple(
                Evidence(its.last, f"“{its.its.name}” waits here.", (Ran(site.number, its.last),))
                for its in circle
                if its.last >= 0 and (site := facts.site_at(its.last)) is not None
            ),
        )


KIND = Kind(
    "waiting-in-a-circle",
    "They wait for one another",
    "{told} In which order should each of them take what it needs?",
    "the run was stopped while threads waited for one another in a circle",
    "strong",
    """\
import threading
boat_key, store_key = threading.Lock(), threading.Lock()
ready = threading.Barrier(2)
def oars():
    with boat_key:
        ready.wait()
        with store_key: #!
            print("oars")
def nets():
    with store_key:
        ready.wait()
        with boat_key:
            print("nets")
keepers = [threading.Thread(target=oars, name="gull"), threading.Thread(target=nets, name="tern")]
for keeper in keepers:
    keeper.start()
for keeper in keepers:
    keeper.join()
""",
    """\
import threading
boat_key, store_key = threading.Lock(), threading.Lock()
def oars():
    with boat_key:
        with store_key:
            print("oars")
def nets():
    with boat_key:
        with store_key:
            print("nets")
keepers = [threading.Thread(target=oars, name="gull"), threading.Thread(target=nets, name="tern")]
for keeper in keepers:
    keeper.start()
for keeper in keepers:
    keeper.join()
""",
    find,
)
