"""Where the reader stands, in words."""

from __future__ import annotations

from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.player import SPEEDS, Player
from eelgrass.desktop.session.session import Reader
from eelgrass.desktop.workspace.workspace import Desk


def standing(reader: Reader, desk: Desk, player: Player) -> str:
    """The step, the pass of its loop, and what is special about the run; '' where nothing is open."""
    recording = reader.recording
    if recording is None:
        return tr("running …") if desk.runner.is_running else ""
    its_pass = recording.loops.pass_at(reader.step)
    is_in_loop = its_pass is not None and its_pass.number > 0
    if reader.horizon is not None:
        passes = tr(" · pass {0}").format(its_pass.number) if its_pass and is_in_loop else ""
        return tr("step {0}{1} · say it first").format(reader.step, passes)
    passes = tr(" · pass {0} of {1}").format(its_pass.number, its_pass.in_all) if its_pass and is_in_loop else ""
    where = tr("step {0} of {1}").format(reader.step, len(recording.trace.steps) - 1)
    return where + passes + _state(desk, player) + _text(reader, desk)


def _state(desk: Desk, player: Player) -> str:
    state = tr(" · waiting") if desk.is_waiting else tr(" · running") if desk.runner.is_running else ""
    walks = tr(" · walking, {0:g} lines a second").format(SPEEDS[player.speed]) if player.is_playing else ""
    return state + walks


def _text(reader: Reader, desk: Desk) -> str:
    """Which text the recording is of, where that is not the program's own as it is now."""
    if desk.lent is not None:
        return f" · {desk.lent.whose}"
    return tr(" · older text") if reader.is_stale else ""
