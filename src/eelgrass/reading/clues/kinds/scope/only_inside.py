"""A name of the module that a function stores, but only for itself."""

from __future__ import annotations

from collections.abc import Iterator

from eelgrass.reading.clues.checks import Holds
from eelgrass.reading.clues.clue import Evidence, Kind, Sighting
from eelgrass.reading.clues.facts import UNKNOWN, Facts, shown
from eelgrass.reading.clues.patterns import stored_name
from eelgrass.reading.clues.program_text import Site
from eelgrass.reading.state.name_lookup import module_frame
from eelgrass.trace.values import NOT_SET


def find(facts: Facts) -> Iterator[Sighting]:
    """Of each name that a function stores and never reads: the module's own name of the same name is read later, as it
    was."""
    functions = facts.trace.program.functions
    for site in facts.sites:
        name, function = stored_name(site.node), functions[site.function]
        if not name or function.kind != "function" or name in function.params or name not in function.local:
            continue
        if facts.seen_by(site.function, name):
            continue
        if any(its.node.lineno >= site.node.lineno for its in facts.loads(site.function, name) if its is not site):
            continue
        for visit in facts.visits(site, 6):
            yield from _of_visit(facts, site, visit, name)


def _of_visit(facts: Facts, site: Site, visit: int, name: str) -> Iterator[Sighting]:
    frame, after = facts.frame(visit), facts.after(visit)
    module = module_frame(facts.trace, site.function, frame)
    stored, outer = facts.plain(facts.named(name, frame, after)), facts.named(name, module, visit)
    was = facts.plain(outer) if outer != NOT_SET else UNKNOWN
    number = facts.object_named(name, module, visit)
    if number is not None and facts.trace.objects.shape_of(number) in ("list", "dict", "set"):
        was = facts.asked(name, visit, module)
        stored = facts.asked(name, after, frame)
    if was is UNKNOWN or stored is UNKNOWN or type(was) is not type(stored) or was == stored:
        return
    read = facts.next_read(name, module, visit)
    if read >= 0:
        yield Sighting(
            site.number,
            0.85,
            {"name": name, "function": facts.trace.program.functions[site.function].name, "stored": shown(stored)}
            | {"was": shown(was), "read": facts.line(read)},
            (
                Evidence(
                    after, f"Inside, “{name}” is {shown(stored)}.", (Holds(f"{name} == {stored!r}", frame, after),)
                ),
                Evidence(
                    read,
                    f"Outside, “{name}” is still {shown(was)}.",
                    (Holds(f"{name} == {was!r}", module, read),),
                ),
            ),
        )


KIND = Kind(
    "only-inside",
    "Stored inside, read outside",
    "Line {line} makes “{name}” {stored}, but only inside of “{function}”, where nothing reads it; the “{name}” "
    "outside is another one, and is still {was} at line {read}. Which of the two was meant?",
    "a function stores a name and never reads it; a name of the module that is called the same is read later, "
    "unchanged",
    "strong",
    """\
tagged = 0

def tag(crabs):
    for crab in crabs:
        print(crab, "tagged")
    tagged = len(crabs) #!

tag(["Nip", "Sidle"])
print("tagged:", tagged)
""",
    """\
def tag(crabs):
    for crab in crabs:
        print(crab, "tagged")
    return len(crabs)

tagged = 0
tagged = tag(["Nip", "Sidle"])
print("tagged:", tagged)
""",
    find,
)
