"""Tasks that wait for one another in a circle, or for themselves: none of them can ever go on."""

from __future__ import annotations

import ast
from functools import cached_property

from eelgrass.reading.recording import Recording
from eelgrass.reading.threads.at_a_step import first_await, object_at

_MAKERS = ("create_task", "ensure_future")


class TaskCircles:
    """Of one recording; tasks are known by the frames that they begin with."""

    def __init__(self, recording: Recording, roots: list[int]) -> None:
        self.recording = recording
        self._trace = recording.trace
        self._roots = roots
        self._known: dict[int, int] = {}

    def circle(self, standing: dict[int, int]) -> list[int]:
        """The first circle of tasks, in its order, each waiting for the next; `standing` has the step at which each of
        those that wait does so."""
        waits_for = {root: self._awaited(step) for root, step in standing.items()}
        for start in waits_for:
            seen, its = list[int](), start
            while its in waits_for and its not in seen:
                seen.append(its)
                its = waits_for[its]
            if its in seen:
                return seen[seen.index(its) :]
        return []

    def _awaited(self, step: int) -> int:
        """The task that is awaited at a step; -1 for none that is known."""
        if step not in self._known:
            awaited = first_await(self.recording.worked_lines.syntax.at(step))
            number = object_at(self.recording, awaited, step) if awaited is not None else -1
            self._known[step] = self._of_objects.get(number, -1)
        return self._known[step]

    @cached_property
    def _of_objects(self) -> dict[int, int]:
        """The tasks by their objects: those of one coroutine's calls begin in the order in which they are made."""
        made: dict[str, list[int]] = {}
        tasks = self._tasks_by_step
        for number in range(len(self._trace.program.statements)):
            names = list(self._made_by(number))
            if len(names) == 1:
                for visit in self.recording.visits.of_statement(number).tolist():
                    made.setdefault(names[0], []).extend(tasks.get(visit, ()))
        found: dict[int, int] = {}
        for name, objects in made.items():
            own = [root for root in self._roots if self._trace.function_of_frame(root).name == name]
            if len(own) <= len(objects):  # else some were made in another way
                found.update(zip(sorted(objects), own, strict=False))
        return found

    @property
    def _tasks_by_step(self) -> dict[int, list[int]]:
        """The objects that are tasks, by the step at which each was first seen."""
        found: dict[int, list[int]] = {}
        for number in range(len(self._trace.objects.type)):
            if self._trace.objects.type_of(number) == "Task":
                found.setdefault(int(self._trace.objects.first[number]), []).append(number)
        return found

    def _made_by(self, number: int) -> set[str]:
        """The names of the coroutines of which a statement makes tasks."""
        node = self.recording.worked_lines.syntax.statement(number)
        calls = (
            (its for its in ast.walk(node) if isinstance(its, ast.Call)) if node and not hasattr(node, "body") else ()
        )
        return {
            getattr(call.args[0].func, "id", getattr(call.args[0].func, "attr", ""))
            for call in calls
            if getattr(call.func, "attr", getattr(call.func, "id", "")) in _MAKERS
            and call.args
            and isinstance(call.args[0], ast.Call)
        }
