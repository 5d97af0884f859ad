"""What a moment came from, one step back: the moments that made what it read, what decided that it happened, and what
would have changed it but did not run."""

from __future__ import annotations

import ast
from collections.abc import Callable, Iterable
from functools import lru_cache

from eelgrass.reading.expressions.source_tree import worked_out
from eelgrass.reading.recording import Recording
from eelgrass.reading.state.call_stack import handed_back
from eelgrass.reading.trails.decisions import Decisions, tests_of
from eelgrass.reading.trails.moments import ENDS, Kind, Moment
from eelgrass.reading.trails.not_run import NotRun, own_parts
from eelgrass.reading.trails.reads import GivenBack, Read, Reads, Sent
from eelgrass.reading.trails.turnings import Reason, Turning, Turnings
from eelgrass.reading.trails.visits_of_writes import Write, last_write, visit_at, visit_before, visit_in
from eelgrass.reading.trails.what import owner_text, slot_text
from eelgrass.trace.columns import between, find
from eelgrass.trace.histories import Part
from eelgrass.trace.model import StepKind
from eelgrass.trace.values import NOT_SET

#: Methods that write into files, or determine what is drawn by chance; so many of their latest visits are given.
_WRITING, _SEEDING = ("write", "writelines", "write_text", "write_bytes"), ("seed",)
_MOST_BEFORE = 200
_BEHIND = {Kind.FROM_FILE: "a file", Kind.RANDOM: "what is drawn"}
_ELEMENTS = (Part.ITEM, Part.CELL, Part.SIZE)


class Origins:
    """The origins of the moments of one recording."""

    def __init__(self, recording: Recording) -> None:
        self.recording = recording
        self.trace = recording.trace
        self.decisions = Decisions(recording)
        self.turnings = Turnings(recording, self.decisions)
        self.not_run = NotRun(recording, self.turnings)
        self._mentioning = lru_cache(256)(self._statements_mentioning)

    def of(self, moment: Moment) -> list[Moment]:
        """What a moment came from: data first, the latest first; then decisions; then what did not run."""
        if moment.kind in ENDS:
            return self._behind(moment)
        if moment.kind == Kind.NOT_RUN:
            return self.of_turning(Turning(moment.step, Reason(moment.what)))
        reads = self._reads_of(moment)
        data, missed = self.of_reads(reads)
        missed += self._missed_yields(moment)
        return list(dict.fromkeys([*data, *self.decided(moment), *missed]))

    def _behind(self, moment: Moment) -> list[Moment]:
        """What the program itself did before to what an end stands for: what it wrote into files, how it seeded."""
        names = {Kind.FROM_FILE: _WRITING, Kind.RANDOM: _SEEDING}.get(moment.kind, ())
        visits = []
        for statement in dict.fromkeys(its for name in names for its in self._mentioning(name)):
            of_statement = self.recording.visits.of_statement(statement)
            visits += of_statement[: find(of_statement, moment.step)][-_MOST_BEFORE:].tolist()
        return [Moment(Kind.CHANGED, visit, _BEHIND[moment.kind]) for visit in sorted(visits, reverse=True)]

    def of_reads(self, reads: Reads) -> tuple[list[Moment], list[Moment]]:
        """(the moments that made what a visit read, the latest first; what would have written it, but did not run)."""
        data: list[Moment] = []
        missed: list[Moment] = []
        for its in reads.found:
            if isinstance(its, Read):
                write = last_write(self.recording, its.slot, its.step)
                if write is not None:
                    data.append(self.of_write(its.slot, write))
                if self._may_be_missed(its, write):
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
            is_part = its.slot >= 0 and its.frame < 0 and self.trace.slots.part[its.slot] in _ELEMENTS
            if is_part:
                found.setdefault((its.step, int(self.trace.slots.owner[its.slot])), []).append(its)
            else:
                others.append(its)
        for (visit, owner), parts in found.items():
            if len(parts) == 1:
                others += parts
            else:
                name = owner_text(self.recording, owner, visit, parts[0].seen)
                others.append(
                    Moment(Kind.CHANGED, visit, name, NOT_SET, parts[0].seen, -1, min(its.slot for its in parts))
                )
        return others

    def of_write(self, slot: int, write: Write) -> Moment:
        """The moment of a slot's write."""
        trace = self.trace
        if 0 <= write.step < len(trace.steps) and trace.steps.kind[write.step] == StepKind.RAISE:
            return self.raised(write.step)  # the name of a handler's exception
        value = trace.histories.value_at(slot, write.step + 1)
        if trace.slots.part[slot] in _ELEMENTS:
            named = self._name_of_new(int(trace.slots.owner[slot]), write.visit)
            if named >= 0:
                slot, value = named, trace.histories.value_at(named, write.step + 1)
            elif trace.slots.part[slot] == Part.SIZE:
                value = NOT_SET
        what = slot_text(self.recording, slot, write.visit, write.step + 1)
        if write.callee >= 0:
            return Moment(Kind.HANDED_OVER, write.visit, what, value, write.step + 1, write.callee, slot)
        node = self._node(write.visit)
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
            owner = int(self.trace.slots.owner[slot])
            name = owner_text(self.recording, owner, its.step, its.step)
            return Moment(Kind.CHANGED, its.step, name, NOT_SET, its.step, -1, slot)
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

    # What a moment read

    def _reads_of(self, moment: Moment) -> Reads:
        reads = Reads(self.recording, moment.step)
        node = self._node(moment.step)
        if node is None:
            reads.read_unmatched()
            return reads
        rule: dict[Kind, Callable[[Reads, ast.stmt, Moment], None]] = {
            Kind.HANDED_OVER: self._read_argument,
            Kind.GIVEN_BACK: self._read_given,
            Kind.DECIDED: self._read_decision,
        }
        rule.get(moment.kind, self._read_store)(reads, node, moment)
        return reads

    def _read_store(self, reads: Reads, node: ast.stmt, moment: Moment) -> None:
        """What a statement that stored, changed, printed or raised has read."""
        part = int(self.trace.slots.part[moment.slot]) if moment.slot >= 0 else -1
        if isinstance(node, (ast.For, ast.AsyncFor)):
            self._read_element(reads, node)
        elif isinstance(node, ast.Assign) and (paired := _paired(node, moment.what)) is not None:
            reads.read([paired], deep=False)
        elif isinstance(node, (ast.Assign, ast.AnnAssign)) and part == Part.NAME:
            is_unpacked = any(isinstance(its, (ast.Tuple, ast.List)) for its in getattr(node, "targets", []))
            reads.read([node.value] if node.value is not None else [], deep=is_unpacked)
        elif isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef)):
            reads.read([*node.args.defaults, *(its for its in node.args.kw_defaults if its is not None)])
        else:
            self._read_whole(reads, node)
        if part in _ELEMENTS:
            reads.structure(int(self.trace.slots.owner[moment.slot]))

    def _read_whole(self, reads: Reads, node: ast.stmt | None) -> None:
        if node is None:
            return
        if isinstance(node, ast.AugAssign):
            reads.read(worked_out(node))
        elif isinstance(node, (ast.Assign, ast.AnnAssign, ast.Delete)):
            targets = node.targets if isinstance(node, (ast.Assign, ast.Delete)) else [node.target]
            value = [] if isinstance(node, ast.Delete) or node.value is None else [node.value]
            reads.read(value, deep=False)
            for its in (part for target in targets for part in ast.walk(target)):
                if isinstance(its, (ast.Subscript, ast.Attribute)):
                    reads.read([its.value], deep=False)
                    reads.read([its.slice] if isinstance(its, ast.Subscript) else [])
        elif isinstance(node, (ast.With, ast.AsyncWith)):
            reads.read([its.context_expr for its in node.items])
        elif isinstance(node, ast.ClassDef):
            reads.read([*node.bases, *(its.value for its in node.keywords), *node.decorator_list])
        elif hasattr(node, "body"):
            reads.read([*tests_of(node), *getattr(node, "decorator_list", [])])
        else:
            reads.read(its for its in ast.iter_child_nodes(node) if isinstance(its, ast.expr))
        reads.read_unmatched()

    def _read_element(self, reads: Reads, node: ast.For | ast.AsyncFor) -> None:
        """What a loop takes in a pass. What it goes through was worked out when the loop began."""
        loop = int(self.trace.steps.statement[reads.visit])
        its_pass = self.recording.loops.pass_at(reads.visit, loop)
        starts = self.recording.loops.starts(reads.visit, loop)
        begin = int(starts[0]) if len(starts) else reads.visit
        first = Reads(self.recording, begin)
        place = (its_pass.number if its_pass is not None and its_pass.number else len(starts) + 1) - 1
        called = node.iter if isinstance(node.iter, ast.Call) and isinstance(node.iter.func, ast.Name) else None
        if called is not None and called.func.id in ("enumerate", "zip") and not called.keywords:  # type: ignore[attr-defined]
            through = called.args
        else:
            through = [node.iter]
        for its in through:
            if first.object_of(its) is None:
                first.read([its])
            else:
                Reads.element(_at(first, reads.visit), its, place)
        first.read_unmatched()
        reads.read_unmatched()
        reads.found.update(first.found)

    def _read_decision(self, reads: Reads, node: ast.stmt, moment: Moment) -> None:
        if isinstance(node, (ast.For, ast.AsyncFor)):
            self._read_element(reads, node)
        elif isinstance(node, (ast.Try, ast.TryStar)):
            return
        else:
            reads.read(tests_of(node) if hasattr(node, "body") else worked_out(node) or tests_of(node))
            reads.read_unmatched()

    def _read_given(self, reads: Reads, node: ast.stmt, moment: Moment) -> None:
        """What a frame handed back: of a statement that is no `return`, what the frame's end gives, or a `yield`."""
        if isinstance(node, ast.Return):
            reads.read([node.value] if node.value is not None else [], deep=False)
            reads.read_unmatched()
        elif any(isinstance(its, (ast.Yield, ast.YieldFrom)) for its in ast.walk(node)) and not hasattr(node, "body"):
            self._read_whole(reads, node)
        elif hasattr(node, "body"):
            self._read_decision(reads, node, moment)
        elif moment.value != NOT_SET and self.trace.values.get(moment.value) is not None:
            self._read_whole(reads, node)  # a lambda or comprehension, in the statement around it

    def _read_argument(self, reads: Reads, node: ast.stmt, moment: Moment) -> None:
        """What was handed over to a parameter: its argument, where the call stands in the text; else all."""
        found = [its for its in ast.walk(node) if isinstance(its, ast.Call) and self._made(reads, its, moment.frame)]
        argument = self._argument(found[0], moment) if len(found) == 1 else None
        if argument is not None:
            reads.read(argument, deep=False)
            if not argument and moment.slot >= 0:
                self._read_defaults(reads, moment)
            return
        for call in found:
            reads.read([*call.args, *(its.value for its in call.keywords)])
        if not found:
            self._read_mentions(reads, moment)
        its_own = [its for its in reads.found if isinstance(its, GivenBack) and its.call.frame == moment.frame]
        for its in its_own:
            del reads.found[its]

    def _read_mentions(self, reads: Reads, moment: Moment) -> None:
        """For a frame that no call in the text made, as code in C, an event loop or a thread calls functions: all that
        the latest statements read that name the function."""
        self._read_whole(reads, self._node(reads.visit))
        for statement in self._mentioning(self.trace.function_of_frame(moment.frame).name):
            visits = self.recording.visits.of_statement(statement)
            place = find(visits, int(self.trace.frames.first[moment.frame])) - 1
            node = self.recording.worked_lines.syntax.statement(statement)
            if place >= 0 and node is not None:
                other = Reads(self.recording, int(visits[place]))
                self._read_whole(other, node)
                reads.found.update(other.found)

    def _statements_mentioning(self, name: str) -> list[int]:
        """The statements that use the name of a function, or a method of its name."""
        found = []
        for number in range(len(self.trace.program.statements)):
            node = self.recording.worked_lines.syntax.statement(number)
            parts = [] if node is None else own_parts(node)
            words = {getattr(its, "id", getattr(its, "attr", "")) for part in parts for its in ast.walk(part)}
            if name in words:
                found.append(number)
        return found

    def _made(self, reads: Reads, call: ast.Call, frame: int) -> bool:
        made = reads.frame_called(call)
        return made is not None and made.frame == frame

    def _argument(self, call: ast.Call, moment: Moment) -> list[ast.expr] | None:
        """The expressions that a parameter's value came from; None where that is not plain."""
        function = self.trace.function_of_frame(moment.frame)
        if moment.slot < 0:  # not what is handed over, but that it is
            return []
        name = str(self.trace.values.get(int(self.trace.slots.key[moment.slot])))
        keyword = next((its.value for its in call.keywords if its.arg == name), None)
        if keyword is not None:
            return [keyword]
        if any(isinstance(its, ast.Starred) for its in call.args) or any(its.arg is None for its in call.keywords):
            return None
        parent = function.parent
        is_method = parent >= 0 and self.trace.program.functions[parent].kind == "class"
        places = [its for its in function.params if not (is_method and its == function.params[0])]
        if is_method and name == function.params[0]:
            return [call.func.value] if isinstance(call.func, ast.Attribute) else []
        place = places.index(name) if name in places else len(call.args)
        if place < len(call.args):
            return [call.args[place]]
        return [] if name in places else None

    def _read_defaults(self, reads: Reads, moment: Moment) -> None:
        """What a parameter is when nothing is handed over: what the function's definition worked out."""
        function = self.trace.function_of_frame(moment.frame)
        for number, its in enumerate(self.trace.program.statements):
            node = self.recording.worked_lines.syntax.statement(number) if its.function == function.parent else None
            is_definition = isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef)) and node.name == function.name
            visit = self.decisions.latest(number, self._definer(moment.frame), moment.step) if is_definition else -1
            if visit >= 0 and isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef)):
                other = Reads(self.recording, visit)
                other.read([*node.args.defaults, *(part for part in node.args.kw_defaults if part is not None)])
                reads.found.update(other.found)

    def _definer(self, frame: int) -> int:
        """The frame in which the function of a frame was defined, as far as it is known; else any."""
        parent = self.trace.program.functions[int(self.trace.frames.function[frame])].parent
        frames = self.recording.calls.of_function(parent)
        before = frames[frames < frame] if len(frames) else frames
        return int(before[-1]) if len(before) else -1

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
        raises = (
            self._raised_in(visit) if self._kind(int(self.trace.steps.statement[visit])) in ("try", "trystar") else -1
        )
        if raises >= 0:
            return self.raised(raises)
        node = self._node(visit)
        what = " and ".join(ast.unparse(its) for its in tests_of(node)) if node is not None else ""
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

    def _node(self, visit: int) -> ast.stmt | None:
        number = int(self.trace.steps.statement[visit])
        return self.recording.worked_lines.syntax.statement(number) if number >= 0 else None


def _paired(node: ast.Assign, name: str) -> ast.expr | None:
    """For `a, b = c, d`, the expression on the right that belongs to a name on the left."""
    for target in node.targets:
        if isinstance(target, (ast.Tuple, ast.List)) and isinstance(node.value, (ast.Tuple, ast.List)):
            pairs: Iterable[tuple[ast.expr, ast.expr]] = zip(target.elts, node.value.elts, strict=False)
            if len(target.elts) == len(node.value.elts):
                return next((value for its, value in pairs if isinstance(its, ast.Name) and its.id == name), None)
    return None


def _at(first: Reads, visit: int) -> Reads:
    """What goes through is as it was worked out; its elements are those of a later visit."""
    first.visit = visit
    return first
