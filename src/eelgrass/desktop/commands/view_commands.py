"""What the actions do with the view: look, size, ways of working."""

from __future__ import annotations

from eelgrass.colours import LOOKS
from eelgrass.desktop.commands.base import CommandGroup
from eelgrass.desktop.commands.dialogs.manual_window import ManualWindow
from eelgrass.desktop.commands.dialogs.shortcuts_dialog import ShortcutsDialog
from eelgrass.desktop.services.messages import Choice, Message
from eelgrass.desktop.services.settings import SIZES
from eelgrass.desktop.services.translation import tr


class ViewCommands(CommandGroup):
    """The group “View”."""

    def show_working(self) -> None:
        """Shows or hides how the line works out."""
        settings = self._models.settings
        settings.change(working=not settings.values.working)

    def toggle_predict(self) -> None:
        """Lets the student say first what comes next; and back."""
        self._models.prediction.set_on(not self._models.prediction.is_on)
        self._say("")

    def toggle_passes(self) -> None:
        """Shows the passes of a loop side by side, or Depths and bench again."""
        self._panes.set_passes(not self._panes.shows_passes)

    def toggle_tall(self) -> None:
        """Gives the bench all the room on the right, or takes it back."""
        self._panes.set_tall(not self._panes.is_tall)

    def toggle_present(self) -> None:
        """Large type and only what a class needs to see; and back."""
        self._panes.present(not self._panes.is_presenting)

    def larger(self) -> None:
        """Everything larger."""
        self._resize(1)

    def smaller(self) -> None:
        """Everything smaller."""
        self._resize(-1)

    def _resize(self, by: int) -> None:
        its, presents = self._models.settings.values, self._panes.is_presenting
        now = its.present_points if presents else its.points
        place = min(range(len(SIZES)), key=lambda number: abs(SIZES[number] - now))
        size = SIZES[min(max(place + by, 0), len(SIZES) - 1)]
        self._models.settings.change(**{"present_points" if presents else "points": size})

    def next_look(self) -> None:
        """The next look: light, dark, strong contrast."""
        names, now = list(LOOKS), self._models.settings.values.look
        place = names.index(now) if now in names else 0
        self._models.settings.change(look=names[(place + 1) % len(names)])

    def zoom_in(self) -> None:
        """Shows fewer steps on the tide line."""
        self._panes.timeline.zoom(0.5)

    def zoom_out(self) -> None:
        """Shows more steps on the tide line."""
        self._panes.timeline.zoom(2)

    def zoom_whole(self) -> None:
        """Shows the whole run on the tide line."""
        self._panes.timeline.zoom(0)

    def toggle_focus(self) -> None:
        """Shows only the names that this line uses, or all."""
        options = self._models.parts.options
        options.set_focus(not options.focused)

    def show_manual(self) -> None:
        """Shows the manual beside the window."""
        found = self._panes.widget.findChild(ManualWindow)
        manual = found if isinstance(found, ManualWindow) else ManualWindow(self._panes.widget, self._models.look)
        if manual.isVisible():
            manual.raise_()
        manual.show()

    def say_first_steps(self) -> None:
        """Says in three sentences how to move, until they have been seen."""
        seen = Choice(tr("Seen"), lambda: self._models.messages.over("first steps"))
        manual = Choice(tr("Manual"), self.show_manual)
        told = tr(
            "Right and Left go to the next line and back: the whole run is here, and nothing can be overshot. "
            "Down goes into a call, Up out of it. F1 shows all keys."
        )
        self._models.messages.stand("first steps", Message(told, choices=(seen, manual)))

    def show_keys(self) -> None:
        """Shows every action with its keys, which can be changed there."""
        shortcuts = self._panes.shortcuts
        ShortcutsDialog(self._panes.widget, shortcuts, self._models.look).exec()
        self._models.settings.change(keys=shortcuts.kept)
