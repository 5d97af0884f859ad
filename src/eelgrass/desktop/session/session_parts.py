"""All that is set on the recording on view, by its owners."""

from __future__ import annotations

from dataclasses import dataclass

from eelgrass.desktop.session.breakpoint_set import BreakpointSet
from eelgrass.desktop.session.desk_check_sheets import DeskCheckSheets
from eelgrass.desktop.session.edited_texts import EditedTexts
from eelgrass.desktop.session.questions.watch_list import WatchList
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.session.view_options import ViewOptions


@dataclass(frozen=True)
class SessionParts:
    """The owners of what is on view, and of what is set on it."""

    session: Session
    breakpoints: BreakpointSet
    watches: WatchList
    texts: EditedTexts
    options: ViewOptions
    sheets: DeskCheckSheets

    def forget(self) -> None:
        """Another program is being opened: what was set on the one before goes."""
        self.options.forget()
        self.texts.forget()
        self.sheets.forget()
        self.breakpoints.forget()
        self.watches.set_expressions([])


def new_session_parts() -> SessionParts:
    """Owners with nothing on view."""
    session = Session()
    breakpoints, watches = BreakpointSet(session), WatchList(session)
    return SessionParts(session, breakpoints, watches, EditedTexts(), ViewOptions(), DeskCheckSheets())
