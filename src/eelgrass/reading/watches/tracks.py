"""The history of values as tracks along the run: numbers as lines, others as bands; one for each level of recursion."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from eelgrass.reading.recording import Recording
from eelgrass.reading.watches.series import Series, series_of
from eelgrass.reading.watches.watch import WatchHistory
from eelgrass.trace.columns import Ints, distinct

#: So many levels of one name have a track of their own.
MOST_LEVELS = 12


@dataclass(frozen=True)
class Track:
    """One line to draw: its title, its course over the steps asked for, and the answers that bands stand for, by the
    places that the course has."""

    title: str
    series: Series
    texts: dict[int, str]


def tracks(recording: Recording, text: str, over: WatchHistory, first: int, end: int, stretches: int) -> list[Track]:
    """The tracks of one question between two steps. Where it was asked in calls on several levels, one a level."""
    depths = recording.trace.depths[over.frames] if len(over) else np.zeros(0, np.int64)
    levels = distinct(np.sort(depths))
    if len(levels) < 2:
        return [_track(recording, text, over, np.arange(len(over)), first, end, stretches)]
    return [
        _track(recording, f"{text}, depth {level}", over, np.flatnonzero(depths == level), first, end, stretches)
        for level in levels[:MOST_LEVELS].tolist()
    ]


def _track(
    recording: Recording, title: str, over: WatchHistory, places: Ints, first: int, end: int, stretches: int
) -> Track:
    its = WatchHistory(
        over.steps[places], over.frames[places], over.which[places], over.results, len(places), over.is_whole
    )
    series = series_of(recording.trace, its, first, end, stretches)
    return Track(title, series, {place: its.text(place) for place in {*series.last} - {-1}})
