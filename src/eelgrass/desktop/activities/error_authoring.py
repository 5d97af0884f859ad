"""The error of an exercise that is being made: the faulty lines, and the model program."""

from __future__ import annotations

from eelgrass.desktop.activities.authoring import Authoring
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.edited_texts import EditedTexts, LentText
from eelgrass.desktop.workspace.running.launch import Launch
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.lessons.exercises.marked_lines import MarkedLine, lines_now, toggled
from eelgrass.lessons.making.faults import lines_that_differ
from eelgrass.reading.alignment import matched_lines
from eelgrass.trace.program import Place


class ErrorAuthoring:
    """Marks lines, and exchanges program and model; what comes of it is the exercise's."""

    def __init__(self, authoring: Authoring, texts: EditedTexts, workspace: Workspace, launch: Launch) -> None:
        self._authoring = authoring
        self._texts = texts
        self._workspace = workspace
        self._launch = launch

    def faulty_lines(self, file: str) -> set[int]:
        """The lines of a text that are marked as faulty, where they are now."""
        name = self._workspace.name_of(file)
        if name:
            elsewhere = self._authoring.sealed.elsewhere
            return lines_now(
                elsewhere,
                name,
                self._authoring.text_as_given(name),
                self._authoring.text_on_view(name),
            )
        on_view = matched_lines(self._authoring.given, self._authoring.text_on_view(""))
        return {on_view[line] for line in self._authoring.sealed.lines if line in on_view}

    def toggle_line(self, place: Place) -> None:
        """Marks a line of a text as it is now as faulty, or no longer."""
        name = self._workspace.name_of(place.file)
        given = self._authoring.text_as_given(name)
        line, texts = matched_lines(self._authoring.text_on_view(name), given).get(place.line, 0), given.split("\n")
        if line and name:
            self._authoring.seal(
                elsewhere=toggled(self._authoring.sealed.elsewhere, MarkedLine(name, line, texts[line - 1].strip()))
            )
        elif line:
            self._authoring.seal(lines=tuple(sorted({*self._authoring.sealed.lines} ^ {line})))

    def take_this_as_model(self) -> None:
        """Makes the text as it is now the model."""
        self.take_model(self._workspace.text)

    def take_model(self, model: str) -> None:
        """Makes a text the model."""
        if self._authoring.exercise is not None:
            name = self._authoring.exercise.program.relative_to(self._authoring.exercise.folder).as_posix()
            self._authoring.seal(model={**self._authoring.sealed.model, name: model})

    def exchange(self) -> None:
        """What was the program becomes the model, and the model the program."""
        given, model = self._workspace.text, self._authoring.model
        if self._authoring.exercise is not None and given != model:
            self.take_model(given)
            self._workspace.edit("", model, given)
            self._launch.run(self._launch.case.typed)
            self._authoring.seal(lines=lines_that_differ(model, given))

    @property
    def shows_model(self) -> bool:
        """Whether the model runs in place of the program."""
        return self._texts.lent is not None

    def show_model(self, on: bool) -> None:
        """Runs the model in place of the program, or the program again."""
        self._launch.lend(LentText(self._authoring.model, tr("the model")) if on else None)
