"""What is said of a run when it has ended."""

from __future__ import annotations

from eelgrass.desktop.services.translation import tr
from eelgrass.reading.endless_run import endless_loop
from eelgrass.reading.lines.error_explanations import explained
from eelgrass.reading.recording import Recording


def outcome(recording: Recording) -> tuple[str, bool]:
    """(a sentence about how a run ended, '' where there is nothing to say; whether it is trouble)."""
    its = recording.trace.outcome
    if not len(recording.stepping.stops):
        return (its.reason or tr("The program ended before its first line ran."), True)
    if its.outcome == "raised":
        way = recording.exceptions[-1] if recording.exceptions else None
        meaning = explained(way.type, way.message) if way is not None else ""
        told = tr("The program ended with an exception. {0} {1} End shows the place.").format(its.reason or "", meaning)
        return (" ".join(told.split()), True)
    if its.outcome == "stopped":
        found = endless_loop(recording)
        where = f" {found.words()}" if found else ""
        return (tr("{0}{1} What was recorded until then is here.").format(its.reason, where), True)
    if its.outcome == "exited" and its.exit_status:
        return (tr("The program ended itself with exit status {0}.").format(its.exit_status), False)
    return written_files(recording), False


def written_files(recording: Recording) -> str:
    """A sentence about the files that the program wrote, or ''."""
    written = recording.trace.case.get("written")
    rows = written if isinstance(written, list) else []
    names = [str(row.get("name")) for row in rows if isinstance(row, dict)]
    if not names:
        return ""
    told = ", ".join(names[:4]) + (", …" if len(names) > 4 else "")
    return tr(
        "The program wrote to files: {0}. It did so in a copy of its folder; your own files are as they were."
    ).format(told)
