"""What a moment came from, one step back: the moments that made what it read, what decided that it happened, and what
would have changed it but did not run."""

from __future__ import annotations

import ast
from collections import Counter
from collections.abc import Iterable
from functools import lru_cache

from eelgrass.reading.expressions.source_tree import decided_by
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.call_stack import handed_back
from eelgrass.reading.state.slot_text import after_owner
from eelgrass.reading.trails.decisions import Decisions
from eelgrass.reading.trails.moments import ENDS, Kind, Moment
from eelgrass.reading.trails.not_run import NotRun
from eelgrass.reading.trails.reading_rules import ReadingRules
from eelgrass.reading.trails.reads import GivenBack, Read, Reads, Sent
from eelgrass.reading.trails.turnings import Reason, Turning, Turnings
from eelgrass.reading.trails.visits_of_writes import Write, last_write, visit_at, visit_before, visit_in
from eelgrass.trace.columns import between, find
from eelgrass.trace.histories import ELEMENTS, Part
from eelgrass.trace.model import StepKind
from eelgrass.trace.values import NOT_SET

#: Methods that write into files, or determine what is drawn by chance; so many of their latest visits are given.
_WRITING, _SEEDING = ("write", "writelines", "write_text", "write_bytes"), ("seed",)
_MOST_BEFORE = 200
#: Of so many slots that one statement read, and of so many of one object or frame, is asked what did not write them: a
#: statement that goes through a list reads thousands, and what could have written one could have written the others.
_MOST_ASKED, _MOST_ASKED_OF_ONE = 40, 12
_BEHIND = {Kind.FROM_FILE: "a file", Kind.RANDOM: "what is drawn"}


class Origins:
    """The origins of the moments of one recording."""

    def __init__(self, recording: Recording) -> None:
        self.recording = recording
        self.trace = recording.trace
        self.decisions = Decisions(recording)
        self.turnings = Turnings(recording, self.decisions)
        self.not_run = NotRun(recording, self.turnings)
        self._syntax = recording.worked_lines.syntax
        self.rules = ReadingRules(recording, self.decisions)
        self.of_write = lru_cache(8192)(self._find_of_write)

    def of(self, moment: Moment) -> list[Moment]:
        """What a moment came from: data first, the latest first; then decisions; then what did not run."""
        if moment.kind in ENDS:
            return self._behind(moment)
        if moment.kind == Kind.NOT_RUN:
            return self.of_turning(Turning(moment.step, Reason(moment.what)))
        reads = self.rules.of(moment)
        data, missed = self.of_reads(reads)
        missed += self._missed_yields(moment)
        return list(dict.fromkeys([*data, *self.decided(moment), *missed]))

    def _behind(self, moment: Moment) -> list[Moment]:
        """What the program itself did before to what an end stands for: what it wrote into files, how it seeded."""
        names = {Kind.FROM_FILE: _WRITING, Kind.RANDOM: _SEEDING}.get(moment.kind, ())
        visits = []
        for statement in dict.fromkeys(its for name in names for its in self.rules.mentioning(name)):
            of_statement = self.recording.visits.of_statement(statement)
            visits += of_statement[: find(of_statement, moment.step)][-_MOST_BEFORE:].tolist()
        return [Moment(Kind.CHANGED, visit, _BEHIND[moment.kind]) for visit in sorted(visits, reverse=True)]

    def of_reads(self, reads: Reads) -> tuple[list[Moment], list[Moment]]:
        """(the moments that made what a visit read, the latest first; what would have written it, but did not run)."""
        data: list[Moment] = []
        missed: list[Moment] = []
        asked = Counter[tuple[bool, int]]()  # by the frame or object that the slots belong to
        for its in reads.found:
            if isinstance(its, Read):
                write = last_write(self.recording, its.slot, its.step)
                if write is not None:
                    data.append(self.of_write(its.slot, write))
                slots = self.trace.slots
                owner = bool(slots.part[its.slot] == Part.NAME), int(slots.owner[its.slot])
                is_asked = asked[owner] < _MOST_ASKED_OF_ONE and asked.total() < _MOST_ASKED
                if is_asked and self._may_be_missed(its, write):
                    asked[owner] += 1
                    missed += self._missed(its, write)
            elif isinstance(its, GivenBack):
                data += self._given_back(its)
            elif isinstance(its, Sent):
                visit = visit_at(self.recording, its.step)
                data += [Moment(Kind.CHANGED, visit, "what is sent")] if visit >= 0 else []
            else:
                data.append(Moment(its.kind, its.visit, its.text))
        return sorted(self._together(dict.fromkeys(data)), key=lambda its: -its.step), missed

    def _name_of_new(self, number: int, visit: int) -> int:
        """The slot of a name in which a visit stored an object that it made; -1 where it did not."""
        if self.trace.objects.first[number] < visit:
            return -1
        for slot, value in self.trace.histories.writes_during(visit):
            if self.trace.slots.part[slot] == Part.NAME and self.trace.values.object_of(value) == number:
                return slot
        return -1

    def _together(self, moments: Iterable[Moment]) -> list[Moment]:
        """Elements of one object that one visit wrote, as one change of that object."""
        found: dict[tuple[int, int], list[Moment]] = {}
        others = []
        for its in moments:
            is_part = its.slot >= 0 and its.frame < 0 and self.trace.slots.part[its.slot] in ELEMENTS
            if is_part:
                found.setdefault((its.step, int(self.trace.slots.owner[its.slot])), []).append(its)
            else:
                others.append(its)
        for (visit, _), parts in found.items():
            if len(parts) == 1:
                others += parts
            else:
                slot = min(its.slot for its in parts)
                others.append(Moment(Kind.CHANGED, visit, "", NOT_SET, parts[0].seen, -1, slot))
        return others

    def _find_of_write(self, slot: int, write: Write) -> Moment:
        """The moment of a slot's write."""
        trace = self.trace
        if 0 <= write.step < len(trace.steps) and trace.steps.kind[write.step] == StepKind.RAISE:
            return self.raised(write.step)  # the name of a handler's exception
        value = trace.histories.value_at(slot, write.step + 1)
        if trace.slots.part[slot] in ELEMENTS:
            named = self._name_of_new(int(trace.slots.owner[slot]), write.visit)
            if named >= 0:
                slot, value = named, trace.histories.value_at(named, write.step + 1)
            elif trace.slots.part[slot] == Part.SIZE:
                value = NOT_SET
        what = after_owner(trace, slot, write.step + 1)
        if write.callee >= 0:
            return Moment(Kind.HANDED_OVER, write.visit, what, value, write.step + 1, write.callee, slot)
        node = self._syntax.at(write.visit)
        is_store = trace.slots.part[slot] == Part.NAME or isinstance(node, (ast.Assign, ast.AugAssign, ast.AnnAssign))
        return Moment(Kind.STORED if is_store else Kind.CHANGED, write.visit, what, value, write.step + 1, -1, slot)

    def _may_be_missed(self, read: Read, write: Write | None) -> bool:
        """Whether others may have written a slot since: a name of the interpreter's own making is of no interest."""
        return write is None or write.visit < read.step

    def _missed(self, read: Read, write: Write | None) -> list[Moment]:
        since = -1 if write is None else write.step
        found = self.not_run.writers_of(read.slot, since, read.step)
        return [self._missed_moment(statement, its, read.slot) for statement, its in found]

    def _missed_moment(self, statement: int, its: Turning, slot: int) -> Moment:
        if its.reason == Reason.RAN:
            return Moment(Kind.CHANGED, its.step, "", NOT_SET, its.step, -1, slot)
        return Moment(Kind.NOT_RUN, its.step, its.reason.value, NOT_SET, its.step, -1, slot, statement)

    def _missed_yields(self, moment: Moment) -> list[Moment]:
        """What a generator would have handed out before, had it run."""
        if moment.kind != Kind.GIVEN_BACK or not self.trace.function_of_frame(moment.frame).waits:
            return []
        stretches = self.trace.stretches
        row = stretches.row_at(moment.frame, moment.step)
        found = self.not_run.yields(moment.frame, int(stretches.first[row]), moment.step)
        return [self._missed_moment(statement, its, -1) for statement, its in found]

    def _given_back(self, its: GivenBack) -> list[Moment]:
        call, trace = its.call, self.trace
        visit = visit_in(self.recording, call.frame, call.last) if call.last >= 0 else -1
        if visit < 0:
            return []
        value = handed_back(trace, call.frame, call.last) if trace.steps.kind[call.last] == StepKind.RETURN else NOT_SET
        name = trace.function_of_frame(call.frame).name
        return [Moment(Kind.GIVEN_BACK, visit, name, value, call.last, call.frame)]

    # Decisions

    def decided(self, moment: Moment) -> list[Moment]:
        """What decided that a moment came to be: in its frame, and, where nothing there did, the call of the frame."""
        visits = self.decisions.of_visit(moment.step)
        found = [self.decision(visit) for visit in visits]
        statement = int(self.trace.steps.statement[moment.step])
        if statement >= 0 and not any(self._kind(its) != "assert" for its in self.decisions.around(statement)):
            found += self._called(self.recording.stepping.frame_of(moment.step))
        return found

    def _kind(self, statement: int) -> str:
        return self.trace.program.statements[statement].kind

    def decision(self, visit: int) -> Moment:
        """The moment of a decision; of a `try` that an exception went through, the exception's."""
        raises = (
            self._raised_in(visit) if self._kind(int(self.trace.steps.statement[visit])) in ("try", "trystar") else -1
        )
        if raises >= 0:
            return self.raised(raises)
        node = self._syntax.at(visit)
        what = " and ".join(ast.unparse(its) for its in decided_by(node)) if node is not None else ""
        return Moment(Kind.DECIDED, visit, what)

    def _raised_in(self, visit: int) -> int:
        """The step at which an exception passed in a `try`, the first one after its visit in its frame."""
        stops = self.recording.stepping.stops_of(self.recording.stepping.frame_of(visit))
        for stop in stops[between(stops, visit + 1, len(self.trace.steps))].tolist():
            if self.trace.steps.kind[stop] == StepKind.RAISE:
                return int(stop)
            if not self.decisions.is_in(int(self.trace.steps.statement[stop]), int(self.trace.steps.statement[visit])):
                break
        return -1

    def raised(self, step: int) -> Moment:
        """The moment of an exception that passes at a step: where it was raised first."""
        way = self.recording.exception_path_at(step)
        if way is not None:
            visit = visit_in(self.recording, way.stations[0].frame, way.stations[0].step)
            if visit >= 0:
                return Moment(Kind.RAISED, visit, way.type, way.value, step)
        return Moment(Kind.RAISED, visit_in(self.recording, self.recording.stepping.frame_of(step), step), "exception")

    def _called(self, frame: int) -> list[Moment]:
        """The call that made a frame; for the first one of a thread, what went on as the thread began."""
        its, function = self.trace.frames, self.trace.function_of_frame(frame)
        call = int(its.call_step[frame])
        if call < 0 and function.kind != "module":
            call = visit_before(self.recording, int(its.first[frame]))
        visit = visit_at(self.recording, call) if call >= 0 else -1
        if visit < 0:
            return []
        if function.kind in ("class", "module"):
            return [self.decision(its) for its in self.decisions.of_visit(visit)]
        return [Moment(Kind.HANDED_OVER, visit, f"{function.name}()", NOT_SET, visit, frame)]

    def of_turning(self, turning: Turning) -> list[Moment]:
        """What turned the way off."""
        if turning.reason == Reason.EXCEPTION and self.trace.steps.kind[turning.step] == StepKind.RAISE:
            return [self.raised(turning.step)]
        if turning.reason in (Reason.DECISION, Reason.NO_PASSES, Reason.HANDLER_NOT_NEEDED):
            return [self.decision(turning.step)]
        visit = visit_in(self.recording, self.recording.stepping.frame_of(turning.step), turning.step)
        return [self.decision(its) for its in self.decisions.of_visit(visit)] if visit >= 0 else []
