"""All commands of a window. The names of the methods stand in `action_table.ACTIONS`."""

from __future__ import annotations

from eelgrass.desktop.commands.beside_commands import BesideCommands
from eelgrass.desktop.commands.class_commands import ClassCommands
from eelgrass.desktop.commands.exercise_commands import ExerciseCommands
from eelgrass.desktop.commands.go_commands import GoCommands
from eelgrass.desktop.commands.paper_commands import PaperCommands
from eelgrass.desktop.commands.program_commands import ProgramCommands
from eelgrass.desktop.commands.view_commands import ViewCommands


class Commands(
    BesideCommands, ClassCommands, ExerciseCommands, GoCommands, PaperCommands, ProgramCommands, ViewCommands
):
    """What the actions do that are no moves."""
