"""A function that calls itself without coming nearer to its end."""

from __future__ import annotations

from collections.abc import Iterator

from eelgrass.reading.clues.checks import Ran
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts, shown

_DEEP = 50


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each RecursionError, and of a run that was stopped deep in calls: what the calls were handed."""
    trace = facts.trace
    was_stopped = trace.outcome.outcome == "stopped"
    ended = [path.stations[0].step for path in facts.recording.exceptions if path.type == "RecursionError"][:1]
    ended += [facts.recording.stepping.last()] if was_stopped and len(trace.steps) else []
    for step in ended:
        frame = facts.frame(step)
        if int(trace.depths[frame]) < _DEEP:
            continue
        function = int(trace.frames.function[frame])
        frames = facts.recording.calls.of_function(function).tolist()[:3]
        definition, its = facts.definition_of(function), trace.program.functions[function]
        if definition is None or len(frames) < 3:
            continue
        told = []
        for param in its.params:
            values = [facts.asked(param, int(trace.frames.first[one]), one) for one in frames]
            if UNKNOWN not in values and param != "self":
                told.append(f"“{param}” is " + ", ".join(map(shown, values)))
        call = int(trace.frames.call_step[frames[1]])
        site = facts.site_at(call) if call >= 0 else None
        yield Sighting(
            site.number if site is not None else definition.number,
            0.95,
            {
                "function": its.name,
                "depth": int(trace.depths[frame]),
                "what": "; ".join(told) or "nothing is handed over",
            },
            tuple(
                Evidence(
                    int(trace.frames.call_step[one]),
                    f"“{its.name}” is called again.",
                    (Ran(site.number, int(trace.frames.call_step[one])),),
                )
                for one in frames[1:]
                if site is not None and int(trace.steps.statement[int(trace.frames.call_step[one])]) == site.number
            ),
        )


KIND = Kind(
    "no-way-out",
    "Calls itself without an end",
    "“{function}” calls itself at line {line}, {depth} calls deep, without an end: in the first three calls, {what}. "
    "For what should it not call itself again?",
    "a RecursionError, or a run that was stopped deep in calls of one function, with what these were handed",
    "strong",
    """\
def ripples(count):
    print("ripple", count)
    ripples(count - 1) #!

ripples(3)
""",
    """\
def ripples(count):
    if count > 0:
        print("ripple", count)
        ripples(count - 1)

ripples(3)
""",
    find,
)
