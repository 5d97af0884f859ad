"""A class set at work: what was handed in, what comes of it, and what the instructor decides about it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from eelgrass.desktop.services.background import Lane
from eelgrass.desktop.services.disk_writer import DiskWriter
from eelgrass.desktop.services.messages import Messages, told
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.workspace.session_file import decisions_path
from eelgrass.desktop.workspace.workspace import Workspace
from eelgrass.errors import EelgrassError, FileError
from eelgrass.lessons.class_sets import decisions as deciding
from eelgrass.lessons.class_sets.class_runs import Judged, own_cores
from eelgrass.lessons.class_sets.class_set import ClassSet, class_set
from eelgrass.lessons.class_sets.decisions import Decisions, arranged
from eelgrass.lessons.class_sets.failures import Failures, KeyOf, parted
from eelgrass.lessons.class_sets.grouping import Group
from eelgrass.lessons.class_sets.hand_ins import HandIn, hand_ins
from eelgrass.lessons.class_sets.kept_outcomes import KeptOutcomes, usual_file
from eelgrass.lessons.class_sets.outcomes import digest
from eelgrass.lessons.exercises.exercise import Exercise
from eelgrass.reading.progress import Progress
from eelgrass.runs.confinement import is_confining, missing_words
from eelgrass.runs.order import Leave

#: The groups are shown anew so often while hand-ins are being judged.
_TIMES = 20


class ClassWork(QObject):
    """`its` is the class set as far as it is known, `groups` its groups as they were decided, `differences`, by a
    group's key, where it first does otherwise than the model. While `shows_names` is off, numbers stand for names.

    Signals: `changed` when any of this has; `progressed` with how much has been judged, from 0 to 1."""

    changed = pyqtSignal()
    progressed = pyqtSignal(float)
    _known = pyqtSignal(object, object)
    _found = pyqtSignal(object, str, str)

    def __init__(self, workspace: Workspace, writer: DiskWriter, messages: Messages) -> None:
        super().__init__()
        self._workspace, self._writer, self.messages = workspace, writer, messages
        self.paths: tuple[Path, ...] = ()
        self.its: ClassSet | None = None
        self.groups: list[Group] = []
        self.differences: dict[str, str] = {}
        self.decisions = Decisions()
        self.shows_names = False
        self._numbers: dict[str, int] = {}
        self._enough: Progress | None = None
        self.lane, self.asking, self.parting = Lane("class set"), Lane("first differences"), Lane("first moments")
        self.parting.done.connect(lambda keys: self._decide(self.decisions.with_keys(keys)))
        self.lane.done.connect(self._take)
        self.lane.failed.connect(self._fail)
        self.lane.progressed.connect(self.progressed)
        self._known.connect(self._take_known)
        self._found.connect(self._take_difference)
        workspace.exercise_opened.connect(self._forget)

    # What is handed in

    @told
    def open(self, paths: Iterable[Path]) -> None:
        """Judges what was handed in at some places, to the open exercise. Raises EelgrassError."""
        exercise = self._workspace.exercise
        if exercise is None:
            raise EelgrassError(tr("Open the exercise first; then what was handed in to it."))
        if not is_confining():
            raise EelgrassError(missing_words())
        self._forget()
        self.paths = tuple(paths)
        self.decisions = self._kept(exercise)
        self._enough = enough = Progress()
        self.lane.start(lambda progress: self._work(exercise, self.paths, progress, enough))
        self.changed.emit()

    def add(self, paths: Iterable[Path]) -> None:
        """Judges what was handed in at more places, too; those of the same name are later ones of the same student."""
        self.open((*self.paths, *paths))

    def enough(self) -> None:
        """Judges no more; what is known stays."""
        if self._enough is not None:
            self._enough.give_up()

    def stop(self) -> None:
        """The window closes: nobody waits for anything more."""
        for lane in (self.lane, self.asking, self.parting):
            lane.give_up()

    def _work(self, exercise: Exercise, paths: Sequence[Path], progress: Progress, enough: Progress) -> ClassSet:
        """On another thread."""
        handed = hand_ins(paths, exercise)
        if not handed:
            raise EelgrassError(tr("Nothing was handed in there: neither programs nor answers are in it."))
        progress.when_given_up(enough.give_up)
        enough.told = lambda share: progress.told(share)
        kept, so_far = KeptOutcomes(usual_file()), list[Judged]()

        def take(one: Judged) -> None:
            so_far.append(one)
            if len(so_far) % max(len(handed) // _TIMES, 1) == 0:
                self._known.emit(progress, _prepared(ClassSet(exercise, tuple(so_far))))

        try:
            with own_cores(None, Leave(), gives_way=True) as workers:
                its = _prepared(class_set(exercise, handed, workers, kept, enough, take))
            _ = its.same_texts, its.as_given, its.ways  # which are shown, and take a while
            return its
        finally:
            kept.close()

    def _take_known(self, progress: Progress, its: ClassSet) -> None:
        if not progress.given_up.is_set() and self.lane.is_busy:
            self._show(its)

    def _take(self, its: ClassSet) -> None:
        self._enough = None
        self._show(its)
        self.asking.start(lambda progress: self._find(its, progress))

    def _find(self, its: ClassSet, progress: Progress) -> None:
        """On another thread: what is wrong with each group, the largest first."""
        failures = Failures(its.exercise, Leave())
        for number, group in enumerate(its.groups):
            if not progress.goes_on(number / len(its.groups)):
                return
            self._found.emit(progress, group.key, failures.of(group.typical).words)

    def _take_difference(self, progress: Progress, key: str, sentence: str) -> None:
        if not progress.given_up.is_set():
            self.differences[key] = sentence
            self.changed.emit()

    def _fail(self, error: Exception) -> None:
        self._enough = None
        if isinstance(error, OSError):
            error = FileError(tr("What was handed in cannot be read: {0}."), error)
        if isinstance(error, EelgrassError):
            self.messages.fail(error)
        self.changed.emit()

    def _show(self, its: ClassSet) -> None:
        self.its = its
        self._numbers = {one.hand_in.name: number for number, one in enumerate(its.judged, 1)}
        self._arrange()

    def _arrange(self) -> None:
        self.groups = arranged(self.its.groups, self.decisions) if self.its is not None else []
        self.changed.emit()

    def _forget(self) -> None:
        self.stop()
        self.its, self.groups, self.differences, self.paths = None, [], {}, ()
        self._numbers = {}
        self.changed.emit()

    # Names

    def set_names(self, on: bool) -> None:
        """Shows names, or numbers in their place."""
        self.shows_names = on
        self.changed.emit()

    def name_of(self, its: HandIn) -> str:
        """What a hand-in is called on the screen."""
        return its.name if self.shows_names else tr("no. {0}").format(self._numbers.get(its.name, 0))

    # Decisions

    def _kept(self, exercise: Exercise) -> Decisions:
        try:
            data = self._writer.read(decisions_path(exercise.folder), deciding.MOST_BYTES + 1)
        except OSError as error:
            raise FileError(tr("What was decided about this class set cannot be read: {0}."), error) from error
        return Decisions() if data is None else deciding.decoded(data, tr("the file of decisions"))

    def _decide(self, decisions: Decisions) -> None:
        exercise = self._workspace.exercise
        if exercise is None or decisions == self.decisions:
            return
        before, self.decisions = self.decisions, decisions
        trouble = tr("What was decided about this class set could not be written: {0}.")
        self._writer.write(decisions_path(exercise.folder), deciding.encoded(decisions), trouble)
        if decisions.arranges_as(before):
            self.changed.emit()
        else:
            self._arrange()

    def decide_group(self, key: str, **changes: object) -> None:
        """Another name, comment or points for a group."""
        self._decide(self.decisions.with_group(key, **changes))

    def merge(self, keys: Sequence[str]) -> None:
        """Makes some groups one: the first of them."""
        if len(keys) > 1:
            self._decide(self.decisions.with_merged(keys, keys[0]))

    def part(self, names: Sequence[str]) -> None:
        """Makes some hand-ins a group of their own."""
        if names:
            self._decide(self.decisions.with_parted(names, digest("own", *names)))

    def part_by(self, key_of: KeyOf) -> None:
        """Parts groups by what is wrong with their hand-ins, on another thread."""
        its, groups = self.its, [*self.groups]
        if its is not None:
            failures = Failures(its.exercise, Leave())
            self.parting.start(lambda progress: parted(groups, failures, key_of, progress))

    def as_found(self) -> None:
        """All groups as they were found; names and comments stay."""
        self._decide(self.decisions.without_moves())


def _prepared(its: ClassSet) -> ClassSet:
    """With what is shown of it worked out, on the thread that does this."""
    _ = its.judged, its.groups
    return its
