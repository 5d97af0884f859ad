"""Commands about two runs: what the run is held against, from one difference to the next, what if."""

from __future__ import annotations

from eelgrass.desktop.beside.comparison_view import ComparisonView
from eelgrass.desktop.commands.base import CommandGroup
from eelgrass.desktop.commands.dialogs.compare_dialog import CompareDialog
from eelgrass.desktop.commands.dialogs.what_if_dialog import WhatIfDialog
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.workspace.running.other_runs import OtherRun, offered
from eelgrass.reading.comparing.differences import Kind
from eelgrass.trace.model import StepKind


class BesideCommands(CommandGroup):
    """The group “Beside”."""

    def ask_compare(self) -> None:
        """Asks which run the one on view is to be held against."""
        if self._session.recording is None:
            self._say(tr("There is no run on view to compare."))
            return
        models = self._models
        runs = offered(self._workspace, self._launch, models.earlier, models.parts.texts.shows_lent)
        dialog = CompareDialog(self._panes.widget, runs, models.look)
        if dialog.exec():
            self.compare_with(dialog.chosen)

    def compare_with(self, other: OtherRun) -> None:
        """Holds the run on view against another one."""
        self._models.comparison.compare_with(other.find, other.name, self._models.what_ifs.name)
        self._panes.show_view(ComparisonView)

    def swap_runs(self) -> None:
        """Puts the other run on view, and this one beside it."""
        if self._needs_two():
            self._models.comparison.swap()

    def next_difference(self) -> None:
        """Shows what differs next."""
        self._go(None, back=False)

    def previous_difference(self) -> None:
        """Shows what differed before."""
        self._go(None, back=True)

    def next_parting(self) -> None:
        """Shows where the runs part next."""
        self._go(Kind.PATH, back=False)

    def next_other_value(self) -> None:
        """Shows which value differs next."""
        self._go(Kind.VALUE, back=False)

    def next_other_output(self) -> None:
        """Shows what is printed otherwise next."""
        self._go(Kind.OUTPUT, back=False)

    def _go(self, kind: Kind | None, back: bool) -> None:
        comparison = self._models.comparison
        if not self._needs_two():
            return
        number = comparison.near(kind, back)
        if number < 0:
            self._say(
                tr("Nothing of that kind differs before this step.")
                if back
                else tr("From here on nothing of that kind differs.")
            )
            return
        comparison.go(number)
        if comparison.beside is not None:
            self._say(comparison.beside.words(number))

    def _needs_two(self) -> bool:
        if self._models.comparison.beside is None:
            self._say(tr("There is one run alone: Compare with… (Ctrl+E) puts another one beside it."))
        return self._models.comparison.beside is not None

    # What if

    def ask_what_if(self) -> None:
        """Asks what is to get another value at the shown step."""
        recording = self._session.recording
        if recording is not None:
            names = sorted(recording.worked_lines.names_at(self._session.step))
            self.what_if(names[0] if names else "", recording.stepping.frame_of(self._session.step))

    def what_if(self, target: str, frame: int) -> None:
        """Asks which value something is to get, in a frame on the stack."""
        recording, step = self._session.recording, self._session.step
        if recording is None:
            return
        if recording.trace.steps.kind[step] != StepKind.LINE:
            self._say(tr("A value can be set where a statement is about to run; at this step none is."))
            return
        dialog = WhatIfDialog(self._panes.widget, recording, step, frame, target, self._models.look)
        if dialog.exec():
            self.run_what_if(dialog.text, frame)

    def run_what_if(self, text: str, frame: int) -> None:
        """Runs again with something set at the shown step."""
        self._models.what_ifs.ask(text, frame)
        self._panes.show_view(ComparisonView)
