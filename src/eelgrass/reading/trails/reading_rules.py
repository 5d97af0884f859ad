"""What a moment read: which expressions of its statement made what happened there, by the kind of both."""

from __future__ import annotations

import ast
from collections.abc import Callable, Iterable, Iterator
from functools import lru_cache

from eelgrass.reading.expressions.source_tree import decided_by, own_parts, worked_out
from eelgrass.reading.recording import Recording
from eelgrass.reading.trails.decisions import Decisions
from eelgrass.reading.trails.moments import Kind, Moment, named
from eelgrass.reading.trails.reads import GivenBack, Reads
from eelgrass.trace.columns import find
from eelgrass.trace.histories import ELEMENTS, Part
from eelgrass.trace.program import Function
from eelgrass.trace.values import NOT_SET


class ReadingRules:
    """The rules for one recording."""

    def __init__(self, recording: Recording, decisions: Decisions) -> None:
        self.recording = recording
        self.trace = recording.trace
        self.decisions = decisions
        self._syntax = recording.worked_lines.syntax
        self.mentioning = lru_cache(256)(self._statements_mentioning)

    def of(self, moment: Moment) -> Reads:
        """What the visit of a moment read, as far as it concerns the moment."""
        reads = Reads(self.recording, moment.step)
        node = self._syntax.at(moment.step)
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
        elif isinstance(node, ast.Assign) and (paired := _paired(node, named(self.recording, moment))) is not None:
            reads.read([paired], deep=False)
        elif isinstance(node, (ast.Assign, ast.AnnAssign)) and part == Part.NAME:
            is_unpacked = any(isinstance(its, (ast.Tuple, ast.List)) for its in getattr(node, "targets", []))
            reads.read([node.value] if node.value is not None else [], deep=is_unpacked)
        elif isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef)):
            reads.read([*node.args.defaults, *(its for its in node.args.kw_defaults if its is not None)])
        else:
            read_whole(reads, node)
        if part in ELEMENTS:
            reads.structure(int(self.trace.slots.owner[moment.slot]))

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
            number = first.object_of(its)
            first.read([its], deep=number is None)
            if number is not None:
                reads.element(number, place)
        first.read_unmatched()
        reads.read_unmatched()
        reads.found.update(first.found)

    def _read_decision(self, reads: Reads, node: ast.stmt, moment: Moment) -> None:
        if isinstance(node, (ast.For, ast.AsyncFor)):
            self._read_element(reads, node)
        elif isinstance(node, (ast.Try, ast.TryStar)):
            return
        else:
            reads.read(decided_by(node) if hasattr(node, "body") else worked_out(node) or decided_by(node))
            reads.read_unmatched()

    def _read_given(self, reads: Reads, node: ast.stmt, moment: Moment) -> None:
        """What a frame handed back: of a statement that is no `return`, what the frame's end gives, or a `yield`."""
        if isinstance(node, ast.Return):
            reads.read([node.value] if node.value is not None else [], deep=False)
            reads.read_unmatched()
        elif any(isinstance(its, (ast.Yield, ast.YieldFrom)) for its in ast.walk(node)) and not hasattr(node, "body"):
            read_whole(reads, node)
        elif hasattr(node, "body"):
            self._read_decision(reads, node, moment)
        elif moment.value != NOT_SET and self.trace.values.get(moment.value) is not None:
            read_whole(reads, node)  # a lambda or comprehension, in the statement around it

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
        read_whole(reads, self._syntax.at(reads.visit))
        for statement in self.mentioning(self.trace.function_of_frame(moment.frame).name):
            visits = self.recording.visits.of_statement(statement)
            place = find(visits, int(self.trace.frames.first[moment.frame])) - 1
            node = self._syntax.statement(statement)
            if place >= 0 and node is not None:
                other = Reads(self.recording, int(visits[place]))
                read_whole(other, node)
                reads.found.update(other.found)

    def _statements_mentioning(self, name: str) -> list[int]:
        """The statements that use the name of a function, or a method of its name."""
        found = []
        for number in range(len(self.trace.program.statements)):
            node = self._syntax.statement(number)
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
        node = self._definition(function)
        if node is None or name in (getattr(node.args.vararg, "arg", ""), getattr(node.args.kwarg, "arg", "")):
            return None
        places = [its.arg for its in (*node.args.posonlyargs, *node.args.args)]
        is_static = any(isinstance(its, ast.Name) and its.id == "staticmethod" for its in node.decorator_list)
        if function.parent >= 0 and self.trace.program.functions[function.parent].kind == "class" and not is_static:
            if name in places[:1]:
                return [call.func.value] if isinstance(call.func, ast.Attribute) else []
            places = places[1:]
        place = places.index(name) if name in places else len(call.args)
        return [call.args[place]] if place < len(call.args) else []

    def _definition(self, function: Function) -> ast.FunctionDef | ast.AsyncFunctionDef | None:
        """The definition of a function in the text; None of a lambda, or of one with a namesake in its scope."""
        found = [node for _, node in self._definitions(function)]
        return found[0] if len(found) == 1 else None

    def _definitions(self, function: Function) -> Iterator[tuple[int, ast.FunctionDef | ast.AsyncFunctionDef]]:
        for number, its in enumerate(self.trace.program.statements):
            node = self._syntax.statement(number) if its.function == function.parent else None
            if isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef)) and node.name == function.name:
                yield number, node

    def _read_defaults(self, reads: Reads, moment: Moment) -> None:
        """What a parameter is when nothing is handed over: what the function's definition worked out."""
        for number, node in self._definitions(self.trace.function_of_frame(moment.frame)):
            visit = self.decisions.latest(number, self._definer(moment.frame), moment.step)
            if visit >= 0:
                other = Reads(self.recording, visit)
                other.read([*node.args.defaults, *(part for part in node.args.kw_defaults if part is not None)])
                reads.found.update(other.found)

    def _definer(self, frame: int) -> int:
        """The frame in which the function of a frame was defined, as far as it is known; else any."""
        parent = self.trace.program.functions[int(self.trace.frames.function[frame])].parent
        frames = self.recording.calls.of_function(parent)
        before = frames[frames < frame] if len(frames) else frames
        return int(before[-1]) if len(before) else -1


def read_whole(reads: Reads, node: ast.stmt | None) -> None:
    """All that a statement reads, but for what it then stores into."""
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
        reads.read([*decided_by(node), *getattr(node, "decorator_list", [])])
    else:
        reads.read(its for its in ast.iter_child_nodes(node) if isinstance(its, ast.expr))
    reads.read_unmatched()


def _paired(node: ast.Assign, name: str) -> ast.expr | None:
    """For `a, b = c, d`, the expression on the right that belongs to a name on the left."""
    for target in node.targets:
        if isinstance(target, (ast.Tuple, ast.List)) and isinstance(node.value, (ast.Tuple, ast.List)):
            pairs: Iterable[tuple[ast.expr, ast.expr]] = zip(target.elts, node.value.elts, strict=False)
            if len(target.elts) == len(node.value.elts):
                return next((value for its, value in pairs if isinstance(its, ast.Name) and its.id == name), None)
    return None
