"""Where the reader stands, in words."""

from __future__ import annotations

from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.player import SPEEDS, Player
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.workspace.workspace import Workspace


def standing(session: Session, workspace: Workspace, player: Player) -> str:
    """The step, the pass of its loop, and what is special about the run; '' where nothing is open."""
    recording = session.recording
    if recording is None:
        return tr("running …") if workspace.runner.is_running else ""
    its_pass = recording.loops.pass_at(session.step)
    is_in_loop = its_pass is not None and its_pass.number > 0
    if session.horizon is not None:
        passes = tr(" · pass {0}").format(its_pass.number) if its_pass and is_in_loop else ""
        return tr("step {0}{1} · say it first").format(session.step, passes)
    passes = tr(" · pass {0} of {1}").format(its_pass.number, its_pass.in_all) if its_pass and is_in_loop else ""
    where = tr("step {0} of {1}").format(session.step, len(recording.trace.steps) - 1)
    return where + passes + _state(workspace, player) + _text(session, workspace)


def _state(workspace: Workspace, player: Player) -> str:
    state = tr(" · waiting") if workspace.is_waiting else tr(" · running") if workspace.runner.is_running else ""
    walks = tr(" · walking, {0:g} lines a second").format(SPEEDS[player.speed]) if player.is_playing else ""
    return state + walks


def _text(session: Session, workspace: Workspace) -> str:
    """Which text the recording is of, where that is not the program's own as it is now."""
    if workspace.lent is not None:
        return f" · {workspace.lent.whose}"
    return tr(" · older text") if session.is_stale else ""
