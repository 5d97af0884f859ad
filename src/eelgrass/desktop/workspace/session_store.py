"""Keeps for the next time what belongs to the open program, and keeps its breakpoints with their statements."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from copy import deepcopy
from dataclasses import replace
from pathlib import Path

import msgspec

from eelgrass.desktop.services.disk_writer import DiskWriter
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.breakpoint_set import BreakpointSet
from eelgrass.desktop.session.desk_check_sheets import DeskCheckSheets
from eelgrass.desktop.session.questions.watch_list import WatchList
from eelgrass.desktop.session.view_options import ViewOptions
from eelgrass.desktop.workspace import session_file
from eelgrass.desktop.workspace.session_file import KeptLeave, SavedSession
from eelgrass.lessons.answering.answer import Answer, Evidence
from eelgrass.lessons.cases.case import Case
from eelgrass.reading.breakpoints.breakpoint import moved
from eelgrass.reading.expressions.expression import is_expression, parse_expression


class SessionStore:
    """Owns nothing of what it writes: it asks the owners. `saved` is what was read when the program was opened, for
    them to begin with. `cases`, `answer`, `trails`, `leave` and `may_write` ask owners made later than the store."""

    def __init__(
        self,
        breakpoints: BreakpointSet,
        watches: WatchList,
        options: ViewOptions,
        sheets: DeskCheckSheets,
        writer: DiskWriter,
    ) -> None:
        self._breakpoints = breakpoints
        self._watches = watches
        self._options = options
        self._sheets = sheets
        self._writer = writer
        self._program: Path | None = None
        self._kept = SavedSession()
        self._fastened: dict[str, str] = {}  # by file, the text that the lines of breakpoints are of
        self.saved = SavedSession()
        self.cases: Callable[[], list[Case]] = list
        self.answer: Callable[[], Answer | None] = lambda: None
        self.trails: Callable[[], tuple[Evidence, ...]] = tuple
        self.leave: Callable[[], KeptLeave] = KeptLeave
        self.may_write: Callable[[], bool] = lambda: True
        for changed in (breakpoints.changed, watches.changed, options.pictures_changed, sheets.changed):
            changed.connect(self.keep)

    def begin(self, program: Path, afresh: bool = False) -> str:
        """A program is opened: what was kept of it comes back, `afresh` without the answer. Gives a sentence when that
        was damaged, else ''."""
        self._program = None
        self.saved, trouble = session_file.load(program, self._writer)
        if afresh:
            self.saved = msgspec.structs.replace(self.saved, answer=None)
        its = self._kept = self.saved
        self._fastened = dict(its.texts)
        self._watches.set_expressions([parse_expression(text) for text in its.questions if is_expression(text)])
        self._options.table = deepcopy(its.table)
        self._options.set_pictures(list(its.pictures))
        self._breakpoints.set_breakpoints(its.breakpoints)
        self._sheets.restore(its.desk_checks, its.fills_in)
        return trouble

    def start_keeping(self, program: Path) -> None:
        """All owners have what was kept: from now on, what they have is kept."""
        self._program = program

    def end(self) -> None:
        """The program is closed; whatever the owners forget from now on stays kept."""
        self.keep()
        self._program = None
        self.saved, self._fastened = SavedSession(), {}

    def keep(self) -> None:
        """Keeps what there is, when there is something new, and this window is the one that writes."""
        program = self._program
        if program is None:
            return
        its = self._now()
        if its == self._kept or not self.may_write():
            return
        self._kept = its
        trouble = tr("Cases, breakpoints and answers could not be kept: {0}. They are kept while Eelgrass is open.")
        self._writer.write(session_file.session_path(program), session_file.encoded(its), trouble)

    def _now(self) -> SavedSession:
        files = {one.file for one in self._breakpoints.breakpoints}
        return SavedSession(
            cases=self.cases(),
            breakpoints=self._breakpoints.breakpoints,
            texts={file: text for file, text in self._fastened.items() if file in files},
            questions=[one.text for one in self._watches.expressions],
            answer=self.answer(),
            pictures=list(self._options.pictures),
            table=deepcopy(self._options.table),
            desk_checks=self._sheets.sheets,
            fills_in=self._sheets.open is not None,
            trails=self.trails(),
            leave=self.leave(),
        )

    def go_on_with(self, copy: Path, moved_file: Callable[[str], str], sources: Mapping[str, str]) -> None:
        """A copy of the program's folder takes its place; breakpoints go along. `moved_file` says where a file of it is
        now, `sources` are the texts, by file as it was."""
        self._program = copy
        self._fastened = {moved_file(file): text for file, text in {**sources, **self._fastened}.items()}
        self._breakpoints.set_breakpoints(
            [replace(one, file=moved_file(one.file)) for one in self._breakpoints.breakpoints]
        )

    def follow(self, texts: Mapping[str, str]) -> str:
        """Breakpoints go with their statements to these texts, by file, when they have been changed, here or elsewhere;
        a sentence about those whose statement is gone, or ''."""
        before, after, told = self._breakpoints.breakpoints, self._breakpoints.breakpoints, ""
        for file, text in texts.items():
            fastened = self._fastened.get(file, text)
            self._fastened[file] = text
            gone = [one.statement for one in after if one.is_gone]
            after = moved(after, file, fastened, text)
            for one in after:
                if one.is_gone and one.statement not in gone:
                    told += tr(" The statement of a breakpoint is gone: “{0}”.").format(one.statement)
        if after != before:
            self._breakpoints.take_moved(after)
        return told
