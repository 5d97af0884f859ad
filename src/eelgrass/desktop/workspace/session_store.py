"""Keeps for the next time what belongs to the open program, and keeps its breakpoints with their statements."""

from __future__ import annotations

from collections.abc import Mapping
from copy import deepcopy
from dataclasses import replace
from pathlib import Path

from eelgrass.desktop.services.disk_writer import DiskWriter
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.workspace import session_file
from eelgrass.desktop.workspace.session_file import SavedSession
from eelgrass.lessons.answer import Answer
from eelgrass.lessons.case import Case
from eelgrass.reading.breakpoints.breakpoint import moved
from eelgrass.reading.expressions.expression import is_expression, parse_expression


class SessionStore:
    """`cases` and `answer` are those of the open program; what else is kept, the reader has."""

    def __init__(self, session: Session, writer: DiskWriter) -> None:
        self._session = session
        self._writer = writer
        self._program: Path | None = None
        self._kept = SavedSession()
        self.cases: list[Case] = []
        self.answer: Answer | None = None
        self._fastened: dict[str, str] = {}  # by file, the text that the lines of breakpoints are of

    def begin(self, program: Path) -> None:
        """A program is opened: what was kept of it comes back."""
        self._writer.flush()
        its = self._kept = session_file.kept(program)
        self._program = program
        self.cases, self.answer, self._fastened = its.cases, its.answer, dict(its.texts)
        # Questions come before breakpoints, since setting these keeps all that is on view.
        self._session.questions = [parse_expression(text) for text in its.questions if is_expression(text)]
        self._session.pictures, self._session.table = list(its.pictures), deepcopy(its.table)
        self._session.set_breakpoints(its.breakpoints)

    def end(self) -> None:
        """The program is closed; whatever the reader forgets from now on stays kept."""
        self.keep()
        self._program = None
        self.cases, self.answer, self._fastened = [], None, {}

    def keep(self) -> None:
        """Keeps what there is, when there is something new."""
        session = self._session
        files = {one.file for one in session.breakpoints}
        texts = {file: text for file, text in self._fastened.items() if file in files}
        questions = [one.text for one in session.questions]
        views = (list(session.pictures), deepcopy(session.table))
        its = SavedSession(self.cases, session.breakpoints, texts, questions, self.answer, *views)
        if self._program is None or its == self._kept:
            return
        program, self._kept = self._program, its
        trouble = tr("Cases and breakpoints could not be kept: {0}.")
        self._writer.write(("kept", program), lambda: session_file.keep(program, its), trouble)

    def go_on_with(self, copy: Path, before: str, source: str) -> None:
        """A copy of the program takes its place; breakpoints go along. `before` is the file that they are of, and
        `source` its text."""
        self._program, after = copy, str(copy.absolute())
        its = self._session.breakpoints
        self._fastened[after] = self._fastened.pop(before, source)
        self._session.breakpoints = [replace(one, file=after) if one.file == before else one for one in its]

    def follow(self, texts: Mapping[str, str]) -> str:
        """Breakpoints go with their statements to these texts, by file, when they have been changed, here or elsewhere;
        a sentence about those whose statement is gone, or ''."""
        its, told = self._session.breakpoints, ""
        for file, text in texts.items():
            before = self._fastened.get(file, text)
            self._fastened[file] = text
            gone = [one.statement for one in its if one.is_gone]
            its = moved(its, file, before, text)
            for one in its:
                if one.is_gone and one.statement not in gone:
                    told += tr(" The statement of a breakpoint is gone: “{0}”.").format(one.statement)
        self._session.breakpoints = its
        return told
