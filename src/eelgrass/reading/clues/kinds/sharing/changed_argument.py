"""A function that changes the list it was given, and gives it back as if it were a new one."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from eelgrass.reading.clues.checks import Changed, LeadsTo
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import Facts
from eelgrass.reading.clues.patterns import stored_name


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each `new = f(old)` where the function changed `old` and gave back the same object: `old` is read later."""
    for site, node in facts.all(ast.Assign):
        new, call = stored_name(node), node.value
        if not new or not isinstance(call, ast.Call):
            continue
        for visit in facts.visits(site, 6):
            frame, after = facts.frame(visit), facts.after(visit)
            made = facts.gave(visit).frame_called(call)
            given = facts.object_named(new, frame, after)
            old = next(
                (
                    its.id
                    for its in call.args
                    if isinstance(its, ast.Name) and given is not None
                    if facts.object_named(its.id, frame, visit) == given
                ),
                "",
            )
            if made is None or given is None or not old or old == new:
                continue
            changes = [its for its in facts.changes_of(given, made.first, after) if facts.frame(its) == made.frame]
            read = facts.next_read(old, frame, visit)
            if changes and read >= 0 and facts.trace.objects.shape_of(given) in ("list", "dict", "set"):
                changing = facts.owner_visit(changes[0])
                yield Sighting(
                    _named_anew(facts, made.frame, given) or site.number,
                    0.75,
                    {"new": new, "old": old, "changed": facts.line(changing), "read": facts.line(read)}
                    | {"function": facts.trace.function_of_frame(made.frame).name},
                    (
                        Evidence(
                            changing, "What was handed over is changed.", (Changed(given, changes[0], changes[0] + 1),)
                        ),
                        Evidence(
                            after, f"“{new}” and “{old}” lead to one object.", (LeadsTo(old, given, frame, after),)
                        ),
                        Evidence(read, f"“{old}” is read.", (LeadsTo(old, given, frame, read),)),
                    ),
                )
                break


def _named_anew(facts: Facts, frame: int, number: int) -> int:
    """The statement of a frame that gave an object that was handed over a second name; 0 where there is none."""
    function = int(facts.trace.frames.function[frame])
    for site, node in facts.all(ast.Assign):
        if site.function == function and stored_name(node) and isinstance(node.value, ast.Name):
            for visit in facts.in_frame(site, frame, 0, len(facts.trace.steps))[:1]:
                if facts.object_named(node.value.id, frame, visit) == number:
                    return site.number
    return 0


KIND = Kind(
    "changed-argument",
    "What was handed over has changed",
    "“{function}” changed the very object that “{old}” leads to (line {changed}) and gave it back: “{new}” and "
    "“{old}” are the same at line {read}. Was “{old}” meant to stay as it was?",
    "a function changes a container that it was handed, gives it back, and the old name is read later",
    "strong, less than where the two names are given in one place",
    """\
def without_last(depths):
    depths.pop()
    return depths

measured = [4, 6, 9]
shorter = without_last(measured) #!
print(len(measured), "measured,", len(shorter), "used")
""",
    """\
def without_last(depths):
    depths = depths[:]
    depths.pop()
    return depths

measured = [4, 6, 9]
shorter = without_last(measured)
print(len(measured), "measured,", len(shorter), "used")
""",
    find,
)
