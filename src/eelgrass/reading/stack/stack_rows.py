"""What Depths shows at a step: call frames as layers, each with a row for every name."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

from eelgrass.reading.stack.object_tags import TAGGABLE, ObjectTags
from eelgrass.reading.stack.rows import (
    Cell,
    ErrorRow,
    FoldedRow,
    FrameRows,
    HeadingRow,
    MoreRow,
    Path,
    ReturnRow,
    Row,
    UnsetRow,
    ValueRow,
)
from eelgrass.reading.state import insides, value_text
from eelgrass.reading.state.call_stack import Binding, FrameState, bindings_of, class_of, frame_state, stack_at
from eelgrass.reading.state.function_words import function_words
from eelgrass.reading.state.references import References
from eelgrass.reading.state.value_text import brief
from eelgrass.reading.stepping.stepping import Stepping
from eelgrass.trace.columns import Ints
from eelgrass.trace.histories import Part
from eelgrass.trace.model import StepKind, Trace
from eelgrass.trace.values import NOT_SET, Ref

#: Lists up to this long show as cells, when every element is short.
_MOST_CELLS = 12
_CELL_CHARACTERS = 10
#: So many elements of an opened container show; a row says how many more there are.
PAGE = 50
#: Of a very deep stack, so many of the outermost and of the innermost frames show.
_OUTER_LAYERS, _INNER_LAYERS = 3, 24
#: And of a thread that is not on.
_LAYERS_BESIDE = 3
_MOST_FOLDED = 60  # names in one row
_VALUE_CHARACTERS = 60
_WAS_CHARACTERS = 24


class StackRows:
    """The layers of one recording."""

    def __init__(self, trace: Trace, stepping: Stepping, references: References) -> None:
        self.trace = trace
        self.stepping = stepping
        self.tags = ObjectTags(trace, references)
        self._references = references

    def at(self, step: int, opened: frozenset[Path] = frozenset()) -> list[FrameRows]:
        """The layers at a step, outermost first. `opened` holds the paths of containers and objects that are open."""
        if self.trace.frames.thread.any():
            return self._of_threads(step, opened)
        frames, left_out = self.frames_at(step)
        before = self.stepping.previous_in_frame(step)
        since = before if before >= 0 else self.stepping.call_of(step)
        view = _View(self.trace, self.tags, step, since, opened, self.tags.shared(frames, step))
        stack_rows = [self._layer(view, frame, frame is frames[-1]) for frame in frames]
        if left_out:
            stack_rows.insert(_OUTER_LAYERS, self._folded(left_out))
        return stack_rows

    def _of_threads(self, step: int, opened: frozenset[Path]) -> list[FrameRows]:
        """The module's layer, and beside each other those of each thread's calls, the one that is on last."""
        threads, on = self.stepping.threads, int(self.stepping.threads.of_step[step])
        here = stack_at(self.trace, step)
        stacks = {its: here if its == on else threads.stack(its, step) for its in threads.numbers}
        base = next((one for one in stacks.get(0, [])[:1] if one[0] == 0), (0, self.stepping.first()))
        stacks = {thread: [one for one in its if one[0] != 0] for thread, its in stacks.items()}
        lanes = [thread for thread, its in stacks.items() if its]
        placed = [(-1, *base)]
        for thread in sorted(lanes, key=lambda its: its == on):
            its = stacks[thread]
            kept = its[-_INNER_LAYERS if thread == on else -_LAYERS_BESIDE :]
            placed += [(thread, frame, place) for frame, place in kept]
        frames = [frame_state(self.trace, frame, place, step) for _, frame, place in placed]
        before = self.stepping.previous_in_frame(step)
        since = before if before >= 0 else self.stepping.call_of(step)
        view = _View(self.trace, self.tags, step, since, opened, self.tags.shared(frames, step))
        innermost = self.stepping.frame_of(step)
        layers, titled = [], set[int]()
        for (thread, _, place), frame in zip(placed, frames, strict=True):
            layer = self._layer(view, frame, frame.frame == innermost)
            if thread >= 0:
                title = layer.title if thread in titled else f"{threads.names.get(thread, thread)}: {layer.title}"
                detail = layer.detail if frame.frame == innermost else self._beside_detail(thread, place, step)
                layer = replace(layer, title=title, detail=detail, lane=lanes.index(thread), lanes=len(lanes))
                titled.add(thread)
            layers.append(layer)
        return layers

    def _beside_detail(self, thread: int, place: int, step: int) -> str:
        """What a thread that is not on does in one of its frames."""
        threads, turns, line = self.stepping.threads, self.trace.turns, self.trace.line_of(place)
        if place != threads.stands_at(thread, step):
            return f"waits at line {line}"  # for the calls within
        does: dict[int | None, str] = {turns.WAITS: "waits at", turns.SLEEPS: "sleeps at"}
        return f"{does.get(threads.waits(thread, step), 'next is')} line {line}"

    def frames_at(self, step: int) -> tuple[list[FrameState], list[tuple[int, int]]]:
        """(the frames on the stack that show, outermost first; those in between that are left out)."""
        stack = stack_at(self.trace, step)
        left_out = stack[_OUTER_LAYERS:-_INNER_LAYERS]
        if left_out:
            stack = stack[:_OUTER_LAYERS] + stack[-_INNER_LAYERS:]
        return [frame_state(self.trace, frame, place, step) for frame, place in stack], left_out

    def plain_value(self, layer: FrameRows, row: Row, step: int) -> Any:
        """The number, text or object that a name's row shows; None where it shows nothing plain."""
        binding = self._binding_of(layer, row, step)
        return None if binding is None else self.trace.values.get(binding.value)

    def leads_of(self, layer: FrameRows, row: Row, step: int) -> tuple[list[str], list[str]]:
        """For a name's row that shows an object: every way that leads to it, and those to others that only equal it."""
        binding = self._binding_of(layer, row, step)
        number = self.trace.values.object_of(binding.value) if binding is not None else None
        if number is None:
            return [], []
        ways = [lead.text for lead in self._references.leads(number, step)]
        equals = self._references.equals(number, step)
        return ways, [lead.text for other in equals for lead in self._references.leads(other, step)]

    def _binding_of(self, layer: FrameRows, row: Row, step: int) -> Binding | None:
        if len(row.path) != 2 or not isinstance(row, ValueRow):
            return None
        bindings = bindings_of(self.trace, layer.frame, step)
        return next((its for its in bindings if its.name == row.path[1] and its.value != NOT_SET), None)

    def focused(self, stack_rows: list[FrameRows], names: frozenset[str]) -> list[FrameRows]:
        """The layers with only the rows of these names and what is in them; how many others there are is said."""
        found = []
        for layer in stack_rows:
            kept = [row for row in layer.rows if isinstance(row, (ReturnRow, ErrorRow)) or names & {*row.path[1:2]}]
            left_out = sum(len(row.path) == 2 for row in layer.rows) - sum(len(row.path) == 2 for row in kept)
            more = [MoreRow(f"and {left_out} more names")] if left_out else []
            found.append(replace(layer, rows=[*kept, *more]))
        return found

    def values_in_words(self, step: int) -> str:
        """The names of the innermost frame with their values, as `total = 3, beds = [1, 2]`."""
        rows = [row for row in self.at(step)[-1].rows if isinstance(row, ValueRow)]
        return ", ".join(f"{row.name} = {row.shown}" for row in rows)

    def _folded(self, stack: list[tuple[int, int]]) -> FrameRows:
        """One layer for the many frames in the middle of a very deep stack."""
        frame, place = stack[-1]
        names = sorted({function_words(self.trace.function_of_frame(frame).name) for frame, _ in stack})
        title = f"{len(stack)} more calls, of {', '.join(names[:3])}{' …' if len(names) > 3 else ''}"
        return FrameRows(frame, title, "each waits for the next", int(self.trace.depths[frame]), False, place)

    def _layer(self, view: _View, frame: FrameState, active: bool) -> FrameRows:
        kind = self.trace.steps.kind[view.step] if active else StepKind.CALL
        words = {
            StepKind.LINE: f"about to run line {frame.line}",
            StepKind.RETURN: f"ends at line {frame.line}",
            StepKind.RAISE: f"stands at line {frame.line}",
        }
        detail = words.get(StepKind(int(kind)), f"waits at line {frame.line}")
        if view.step == len(self.trace.steps) - 1 and self.trace.outcome.outcome != "running":
            detail = f"the run ends here, at line {frame.line}"
        title = function_words(frame.function)
        if frame.function == "<module>" and len(self.trace.program.modules) > 1:
            title = (
                "module "
                + self.trace.program.module_of(int(self.trace.frames.function[frame.frame])).file.rpartition("/")[2]
            )
        layer = FrameRows(frame.frame, title, detail, frame.depth, active, frame.step)
        layer.rows.extend(view.rows(frame))
        if active and kind == StepKind.RAISE:
            layer.rows.append(ErrorRow("exception", text=self._error(view.step)))
        return layer

    def _error(self, step: int) -> str:
        raises = self.trace.raises
        for row in (raises.step == step).nonzero()[0].tolist():
            value = int(raises.value[row])
            caught = " (caught here)" if raises.caught[row] else ""
            got = self.trace.values.get(value) if value != NOT_SET else None
            if not isinstance(got, Ref):
                break
            arguments = [
                value_text.text(self.trace, item, step) for _, item in insides.items(self.trace, got.number, step)
            ]
            return f"{self.trace.objects.type_of(got.number)}({', '.join(arguments)}){caught}"
        return "an exception"


@dataclass
class _View:
    """One step's view while its rows are made. `since` is the step that changes are told against."""

    trace: Trace
    tags: ObjectTags
    step: int
    since: int
    opened: frozenset[Path]
    shared: set[int]

    def rows(self, frame: FrameState) -> Iterator[Row]:
        is_module = frame.function == "<module>"
        for scope in frame.scopes:
            bindings = [binding for binding in scope.bindings if not binding.name.startswith("__")]
            folded, shown = list[Binding](), list[Binding]()
            for binding in bindings:
                (folded if is_module and self._is_furniture(binding) else shown).append(binding)
            if len(frame.scopes) > 1 and shown:
                yield HeadingRow(scope.title)
            for binding in shown:
                yield from self._binding(frame, binding)
            if folded:
                names = ", ".join(binding.name for binding in folded[:_MOST_FOLDED])
                yield FoldedRow(f"defined: {names}{', …' if len(folded) > _MOST_FOLDED else ''}")
        if frame.returns != NOT_SET and not is_module:
            yield ReturnRow(
                "gives back",
                type_word=value_text.type_word(self.trace, frame.returns, self.step),
                text=brief(self.trace, frame.returns, self.step, _VALUE_CHARACTERS),
            )

    def _is_furniture(self, binding: Binding) -> bool:
        """Functions, classes and imported modules of a module: there all the time, and no part of its state. A name
        that is still to be bound to one, by a `def` further down, counts too."""
        number = self.trace.values.object_of(binding.value)
        if number is not None:
            return self.trace.objects.shape_of(number) in insides.DEFINITIONS
        return binding.slot < 0 and self._comes_as_furniture(binding.name)

    def _comes_as_furniture(self, name: str) -> bool:
        functions = self.trace.program.functions
        return any(function.name == name and function.kind != "module" for function in functions)

    def _binding(self, frame: FrameState, binding: Binding) -> Iterator[Row]:
        path = (str(frame.frame), binding.name)
        if binding.value == NOT_SET:
            yield UnsetRow(binding.name, path=path, is_deleted=binding.deleted)
            return
        was = self.trace.histories.value_at(binding.slot, self.since) if binding.slot >= 0 else binding.value
        yield from self._value(binding.name, binding.value, was, path, 0)

    def _value(self, name: str, value: int, was: int, path: Path, indent: int) -> Iterator[Row]:
        trace, step = self.trace, self.step
        number = trace.values.object_of(value)
        content_changed = number is not None and self._content_changed(number)
        is_open = number is not None and path in self.opened
        cells = self._cells(number, value) if number is not None and not is_open else ()
        yield ValueRow(
            name,
            type_word=value_text.type_word(trace, value, step),
            text="" if cells or is_open else self._text(value, number),
            was=brief(trace, was, self.since, _WAS_CHARACTERS) if was not in (value, NOT_SET) else None,
            changed=was != value or content_changed,
            indent=indent,
            path=path,
            tag=self._tag_of(number) if number is not None else None,
            cells=cells,
            can_open=number is not None and self._has_inside(number),
            is_open=is_open,
        )
        if is_open and number is not None and indent < 12:
            yield from self._inside(number, path, indent + 1)

    def _twice_in(self, value: int) -> set[int]:
        """The objects that stand more than once among the first elements of a container."""
        number, got = self.trace.values.object_of(value), self.trace.values.get(value)
        if number is not None:
            rows = insides.items(self.trace, number, self.step, end=_MOST_CELLS) if self.shared else []
            held = [self.trace.values.object_of(inner) for _, inner in rows]
        else:
            held = [value_text.object_in(part) for part in got[1:]] if type(got) is list else []
        counts = Counter(inner for inner in held if inner in self.shared)
        return {inner for inner, count in counts.items() if inner is not None and count > 1}

    def _tag_of(self, number: int) -> str | None:
        return self.tags.syllable(number) if number in self.shared else None

    def _text(self, value: int, number: int | None) -> str:
        if number is not None and self.trace.objects.shape_of(number) in ("instance", *insides.ARRAYS):
            return value_text.in_a_line(self.trace, number, self.step)
        if number is not None and self.trace.objects.shape_of(number) not in TAGGABLE:
            return ""
        twice = self._twice_in(value)
        tag_of = None if not twice else lambda inner: f"{self.tags.syllable(inner)}→" if inner in twice else None
        text = value_text.text(self.trace, value, self.step, _VALUE_CHARACTERS + 1, tag_of)
        return text if len(text) <= _VALUE_CHARACTERS else text[: _VALUE_CHARACTERS - 1] + "…"

    def _content_changed(self, number: int) -> bool:
        if not self.tags.is_taggable(number):
            return False
        return self.trace.histories.written_inside(number, self.since, self.step)

    def _has_inside(self, number: int) -> bool:
        is_container = self.trace.objects.shape_of(number) in (*TAGGABLE, "tuple", "exception")
        return is_container and len(self.trace.histories.of_object(number)) > 0

    def _changed_inside(self, number: int) -> dict[int, int]:
        """For the keys of an object's elements and fields, the values before; only those that are different now."""
        histories, slots = self.trace.histories, self.trace.slots
        its = histories.of_object(number)
        if number in self.trace.cells:
            was_there = dict(insides.items(self.trace, number, self.since))
            now = insides.items(self.trace, number, self.step)
            moved = {key: was_there.get(key, NOT_SET) for key, value in now if was_there.get(key) != value}
            return moved | self._changed_slots(its[slots.part[its] == Part.FIELD])
        return self._changed_slots(its[slots.part[its] != Part.SIZE])

    def _changed_slots(self, its: Ints) -> dict[int, int]:
        histories, slots = self.trace.histories, self.trace.slots
        was = histories.values_at(its, self.since)
        changed = was != histories.values_at(its, self.step)
        return dict(zip(slots.key[its[changed]].tolist(), was[changed].tolist(), strict=True))

    def _cells(self, number: int, value: int) -> tuple[Cell, ...]:
        if self.trace.objects.shape_of(number) != "list":
            return ()
        size = insides.size_of_object(self.trace, number, self.step)
        if not 0 < size <= _MOST_CELLS:
            return ()
        changed = self._changed_inside(number)
        twice, cells = self._twice_in(value), list[Cell]()
        for key, item in insides.items(self.trace, number, self.step):
            inner = self.trace.values.object_of(item)
            tag = self.tags.syllable(inner) if inner is not None and inner in twice else None
            cells.append(Cell(brief(self.trace, item, self.step, _CELL_CHARACTERS + 1), key in changed, tag))
        fits = all(len(cell.text) <= _CELL_CHARACTERS for cell in cells)
        return tuple(cells) if fits and sum(cell.characters + 2 for cell in cells) <= _VALUE_CHARACTERS else ()

    def _inside(self, number: int, path: Path, indent: int) -> Iterator[Row]:
        """The elements, as many pages of them as are opened, the fields, and those that belong to the class."""
        trace, changed = self.trace, self._changed_inside(number)
        part = value_text.recorded_part(trace, number, self.step)
        if part:
            yield HeadingRow(part, indent=indent)
        end = PAGE
        while (*path, f"more {end}") in self.opened:
            end += PAGE
        for key, value in insides.items(trace, number, self.step, end=end):
            place = value_text.place_text(trace, number, key, self.step)
            shown = "·" if trace.objects.shape_of(number) == "set" else place
            yield from self._value(shown, value, changed.get(key, value), (*path, place), indent)
        left = len(insides.elements(trace, number, self.step)) - end
        if left > 0:
            more = (*path, f"more {end}")
            yield MoreRow(f"and {left} more", indent=indent, path=more)
        held = trace.histories.inside(number, Part.FIELD, self.step)
        for key, value in list(zip(held.keys.tolist(), held.values.tolist(), strict=True))[:PAGE]:
            shown = f".{trace.values.get(key)}"
            yield from self._value(shown, value, changed.get(key, value), (*path, shown), indent)
        yield from self._of_class(number, path, indent)

    def _of_class(self, number: int, path: Path, indent: int) -> Iterator[Row]:
        """The fields of an instance's class, as far as the class is known by its name; without functions."""
        trace = self.trace
        if trace.objects.shape_of(number) != "instance":
            return
        class_ = class_of(trace, number, int(trace.steps.frame[self.step]), self.step)
        if class_ is None:
            return
        own = {name for name, _ in insides.fields(trace, number, self.step)}
        shared = [
            (name, value)
            for name, value in insides.fields(trace, class_, self.step)
            if name not in own and not self._is_function(value)
        ]
        if shared:
            yield HeadingRow(f"of the class {trace.objects.type_of(number)}", indent=indent)
        for name, value in shared:
            yield from self._value(f".{name}", value, value, (*path, f"class .{name}"), indent)

    def _is_function(self, value: int) -> bool:
        number = self.trace.values.object_of(value)
        return number is not None and self.trace.objects.shape_of(number) not in (*TAGGABLE, "tuple")
