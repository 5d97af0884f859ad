"""Everything that a window shows and does, without a widget: put together here, and nowhere else."""

from __future__ import annotations

from dataclasses import dataclass

from eelgrass.desktop.activities.authoring import Authoring
from eelgrass.desktop.activities.classes.class_work import ClassWork
from eelgrass.desktop.activities.classes.hand_in_reading import HandInReading
from eelgrass.desktop.activities.clue_context import ClueContext
from eelgrass.desktop.activities.desk_acts import DeskActs
from eelgrass.desktop.activities.error_authoring import ErrorAuthoring
from eelgrass.desktop.activities.kept_cases import KeptCases
from eelgrass.desktop.activities.kept_trails import KeptTrails
from eelgrass.desktop.activities.navigator import Navigator
from eelgrass.desktop.activities.page_writing import PageWriting
from eelgrass.desktop.activities.plan_authoring import PlanAuthoring
from eelgrass.desktop.activities.prediction_mode import PredictionMode
from eelgrass.desktop.activities.route import Route
from eelgrass.desktop.activities.solving import Solving
from eelgrass.desktop.activities.turn_search import TurnSearch
from eelgrass.desktop.look.look import Look
from eelgrass.desktop.services.disk_writer import DiskWriter
from eelgrass.desktop.services.messages import Message, Messages
from eelgrass.desktop.services.settings import Settings
from eelgrass.desktop.session.comparison import RunComparison
from eelgrass.desktop.session.handler_list import HandlerList
from eelgrass.desktop.session.player import Player
from eelgrass.desktop.session.questions.clue_list import ClueList
from eelgrass.desktop.session.questions.trails import Trails
from eelgrass.desktop.session.session_parts import SessionParts, new_session_parts
from eelgrass.desktop.session.side_runs import SideRuns
from eelgrass.desktop.session.what_ifs import WhatIfs
from eelgrass.desktop.workspace.claims import Claims
from eelgrass.desktop.workspace.running.earlier_runs import EarlierRuns
from eelgrass.desktop.workspace.running.launch import Launch
from eelgrass.desktop.workspace.running.program_run import ProgramRun
from eelgrass.desktop.workspace.running.still_running import StillRunning
from eelgrass.desktop.workspace.session_store import SessionStore
from eelgrass.desktop.workspace.text_files import TextFiles
from eelgrass.desktop.workspace.workspace import Workspace


@dataclass(frozen=True)
class Models:
    """The owners of all state, by name."""

    look: Look
    settings: Settings
    messages: Messages
    writer: DiskWriter
    claims: Claims
    parts: SessionParts
    files: TextFiles
    workspace: Workspace
    run: ProgramRun
    still_running: StillRunning
    launch: Launch
    navigator: Navigator
    solving: Solving
    authoring: Authoring
    error: ErrorAuthoring
    plan: PlanAuthoring
    route: Route
    prediction: PredictionMode
    side_runs: SideRuns
    kept_cases: KeptCases
    trails: Trails
    kept_trails: KeptTrails
    clues: ClueList
    comparison: RunComparison
    what_ifs: WhatIfs
    earlier: EarlierRuns
    player: Player
    turns: TurnSearch
    desk: DeskActs
    handlers: HandlerList
    pages: PageWriting
    class_work: ClassWork
    hand_in: HandInReading


def new_models() -> Models:
    """The owners of a new window, with nothing open."""
    look, settings, messages, writer, claims = Look(), Settings(), Messages(), DiskWriter(), Claims()
    parts = new_session_parts()
    store = SessionStore(parts.breakpoints, parts.watches, parts.options, parts.sheets, writer)
    files = TextFiles(parts.texts, writer)
    run = ProgramRun(parts.session, parts.texts, parts.breakpoints, store, messages)
    workspace = Workspace(parts, run, store, files, claims, settings, messages)
    launch = Launch(workspace, run, parts.session, parts.texts, settings, messages)
    navigator = Navigator(parts.session, workspace, launch, run, messages)
    solving = Solving(parts, workspace, launch, navigator, writer, claims, messages)
    authoring = Authoring(parts, workspace, launch, navigator, writer, messages)
    route = Route(parts.session, workspace, launch, navigator)
    prediction = PredictionMode(parts.session, route.questions)
    prediction.answered.connect(solving.keep_said)
    trails, comparison = Trails(parts.session), RunComparison(parts.session)
    trails.forbidden = solving.trails_forbidden
    side_runs, what_ifs = SideRuns(parts.session), WhatIfs(parts.session, comparison, messages)
    side_runs.leave = what_ifs.leave = lambda: launch.leave.leave
    writer.failed.connect(lambda key, error: messages.stand(key, Message(str(error), True)))
    writer.written.connect(messages.over)
    kept_cases = KeptCases(parts.session, workspace, launch, run, comparison, writer, messages)
    clues = ClueList(parts.session, settings, parts.breakpoints)
    ClueContext(clues, solving, kept_cases, launch, workspace)
    class_work = ClassWork(workspace, writer, messages)
    return Models(
        look=look,
        settings=settings,
        messages=messages,
        writer=writer,
        claims=claims,
        parts=parts,
        files=files,
        workspace=workspace,
        run=run,
        still_running=StillRunning(run, messages),
        launch=launch,
        navigator=navigator,
        solving=solving,
        authoring=authoring,
        error=ErrorAuthoring(authoring, parts.texts, workspace, launch),
        plan=PlanAuthoring(authoring, parts, workspace, launch, navigator, messages),
        route=route,
        prediction=prediction,
        side_runs=side_runs,
        kept_cases=kept_cases,
        trails=trails,
        kept_trails=KeptTrails(trails, solving, parts.session, workspace),
        clues=clues,
        comparison=comparison,
        what_ifs=what_ifs,
        earlier=EarlierRuns(workspace, run, writer),
        player=Player(parts.session, settings.values.speed),
        turns=TurnSearch(parts.session, launch, messages),
        desk=DeskActs(parts.session, launch),
        handlers=HandlerList(parts.session),
        pages=PageWriting(parts.session, workspace, launch, parts.options, messages),
        class_work=class_work,
        hand_in=HandInReading(class_work, launch, run, parts.texts, comparison),
    )
