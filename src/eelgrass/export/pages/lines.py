"""What the lines of the text tell, from moment to moment."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from eelgrass.export.pages.content import Interned, PageLine, PageNote
from eelgrass.reading.recording import Recording
from eelgrass.trace.columns import Ints, find


def page_lines(recording: Recording, module: int, moments: Ints, notes: Interned[PageNote]) -> dict[int, PageLine]:
    """By number, the lines of a module that have a statement, or a part of one, over the moments (steps)."""
    if not len(moments):
        return {}
    first, last = int(moments[0]), int(moments[-1])
    found = dict[int, PageLine]()
    never = recording.visits.unreached(module, last)
    later = recording.visits.unreached(module, first)
    for line in sorted({*recording.visits.counts(module, first), *later}):
        visits = recording.visits.of_line(module, line)
        here = visits[find(visits, first) : find(visits, last + 1)]
        at = [find(moments, step) for step in here.tolist()]
        found[line] = PageLine(find(visits, first), len(visits), at, -1 if line in never else 0, [])
    _reach(recording, module, moments, later - never, found)
    for moment, line, note in _note_changes(recording, module, moments, list(found)):
        found[line].notes += [moment, -1 if note is None else notes.number(note)]
    return found


def _reach(recording: Recording, module: int, moments: Ints, wanted: set[int], found: dict[int, PageLine]) -> None:
    """Says of the lines that are reached on the way, when that is; those inside of a statement with it."""
    reached = -1
    for moment, step in enumerate(moments.tolist()):
        if not wanted:
            return
        if (now := recording.visits.reached(module, step)) != reached:
            reached = now
            for line in wanted - recording.visits.unreached(module, step):
                found[line].reached = moment
                wanted = wanted - {line}


def _note_changes(
    recording: Recording, module: int, moments: Ints, lines: list[int]
) -> Iterator[tuple[int, int, PageNote | None]]:
    """(moment, line, the note that it has from then on). A line is looked at where it is on and until what it did is
    done; after that, nothing changes before its next visit."""
    told, unsettled = dict[int, PageNote](), set(lines)
    for moment, step in enumerate(moments.tolist()):
        if recording.module_at(step) == module:
            unsettled.add(recording.trace.line_of(step))
        for line in sorted(unsettled):
            its = recording.line_notes.of_line(module, line, step)
            note = None if its is None else PageNote(its.text, its.trouble, replace(its, tells_rest=False).text)
            if note != told.get(line):
                yield moment, line, note
                if note is None:
                    told.pop(line)
                else:
                    told[line] = note
        unsettled = {line for line in unsettled if not _is_settled(recording, module, line, step)}


def _is_settled(recording: Recording, module: int, line: int, step: int) -> bool:
    """Whether a line's note stays as it is until the line is on again."""
    visit = recording.visits.latest(module, line, step)
    if visit < 0:
        return recording.module_at(step) != module or recording.trace.line_of(step) != line
    after = recording.stepping.next_in_frame(visit)
    is_here = recording.module_at(step) == module and recording.trace.line_of(step) == line
    return 0 <= after <= step and not recording.stepping.waits_at(after) and not is_here
