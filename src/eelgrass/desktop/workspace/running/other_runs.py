"""What the run on view can be held against: other cases, the model, earlier runs."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial
from pathlib import Path

from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.comparison import Finding
from eelgrass.desktop.workspace.running.earlier_runs import EarlierRuns
from eelgrass.desktop.workspace.running.launch import Launch, by_python, checked
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.errors import EelgrassError
from eelgrass.lessons.cases.case import Case
from eelgrass.lessons.exercises.exercise import Exercise
from eelgrass.lessons.judging.judging import recorded
from eelgrass.reading.progress import Progress
from eelgrass.reading.recording import Recording
from eelgrass.runs.order import Leave, Order
from eelgrass.runs.run import Run
from eelgrass.trace.files import recording_file


@dataclass(frozen=True)
class OtherRun:
    """Another run: what it is called, and how it is found or made, on another thread."""

    name: str
    find: Finding


def of_file(path: Path) -> OtherRun:
    """A recording."""
    return OtherRun(path.name, lambda _progress: Recording(recording_file.load(path)))


def offered(workspace: Workspace, launch: Launch, earlier: EarlierRuns, shows_answer: bool) -> list[OtherRun]:
    """Everything that the open program can be held against; the model only for who makes the exercise, or reads an
    answer."""
    found = []
    exercise = workspace.exercise
    if exercise is not None and exercise.model is not None and (workspace.makes or shows_answer):
        found.append(
            OtherRun(tr("the model"), partial(run_of_text, exercise, launch.case, exercise.model, launch.leave.leave))
        )
    if workspace.program is not None:
        for case in launch.all_cases:
            if case != launch.case:
                found.append(OtherRun(tr("the case “{0}”").format(case.name), of_case(launch, case)))
    found += [OtherRun(its.words, of_file(its.file).find) for its in earlier.offered()]
    return found


def of_case(launch: Launch, case: Case) -> Finding:
    """The program's text as it is now on a case, run aside."""
    try:
        return partial(_made, launch.order_of(case), case)
    except (SyntaxError, OSError) as error:
        return partial(_refused, tr("The case “{0}” cannot be run: {1}.").format(case.name, error))


def _refused(sentence: str, _progress: Progress) -> Recording:
    raise EelgrassError(sentence)


def _made(order: Order, case: Case, progress: Progress) -> Recording:
    """Runs a case aside, by the Python of its folder. Raises CannotRunError and OSError."""
    assert order.program is not None
    run = Run(by_python(order, checked(order.program.parent, order)))
    progress.when_given_up(run.stop)
    run.start()
    return Recording(run.fed(case.input))


def run_of_text(exercise: Exercise, case: Case, text: str, leave: Leave, _progress: Progress) -> Recording:
    """A case of an exercise with another program. Raises EelgrassError where it cannot be run."""
    ran = recorded(exercise, case, text, leave)
    if isinstance(ran, str):
        raise EelgrassError(ran)
    return Recording(ran.trace)
