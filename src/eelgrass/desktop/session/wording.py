"""What is said of a run: how it ended, and where one stands in it."""

from __future__ import annotations

from dataclasses import dataclass

from eelgrass.desktop.services.messages import Message
from eelgrass.desktop.services.translation import tr
from eelgrass.reading.endless_run import endless_loop
from eelgrass.reading.error_values import error_values
from eelgrass.reading.handlers import HandlerCall
from eelgrass.reading.lines.error_explanations import explained
from eelgrass.reading.lines.exception_paths import ExceptionPath
from eelgrass.reading.recording import Recording
from eelgrass.reading.standing_place import standing_place
from eelgrass.reading.threads.waiting import waiting_at_the_end
from eelgrass.reading.visible import VisibleRun


def gives_away() -> str:
    """Why something is not shown while the person says first."""
    return tr("That would give away what comes next.")


def outcome(recording: Recording) -> Message:
    """A sentence about how a run ended, '' where there is nothing to say."""
    its = recording.trace.outcome
    if not len(recording.stepping.stops):
        return Message(its.reason or tr("The program ended before its first line ran."), is_trouble=True)
    if its.outcome == "raised":
        way = recording.exceptions[-1] if recording.exceptions else None
        meaning = meant(recording, way) if way is not None else ""
        told = tr("The program ended with an exception. {0} {1} End shows the place.").format(its.reason or "", meaning)
        return Message(" ".join(told.split()), is_trouble=True)
    if its.outcome == "stopped":
        waits = waiting_at_the_end(recording).text
        if waits:
            told = tr("{0} {1} What was recorded until then is here.")
            return Message(told.format(its.reason, waits), is_trouble=True)
        found = endless_loop(recording)
        round_ = f" {found.words()}" if found else ""
        told = tr("{0} It was {1}.{2} What was recorded until then is here.")
        return Message(told.format(its.reason, standing_place(recording), round_), is_trouble=True)
    if its.outcome == "exited" and its.exit_status:
        return Message(tr("The program ended itself with exit status {0}.").format(its.exit_status))
    return Message(written_files(recording))


def meant(recording: Recording, way: ExceptionPath) -> str:
    """What an exception means, with the program's own names and values."""
    told = (explained(way.type, way.message, recording.trace.case), error_values(recording, way))
    return " ".join(filter(None, told))


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


@dataclass(frozen=True)
class RunState:
    """What there is to say of a run on its way, and of the text that it is of: `lines_per_second` while it walks on by
    itself (0: it does not), `whose` text that is not the program's own, `is_older` than the text as it is now."""

    is_running: bool = False
    is_waiting: bool = False
    lines_per_second: float = 0.0
    whose: str = ""
    is_older: bool = False
    reads_along: bool = False


def standing(visible: VisibleRun, step: int, state: RunState) -> str:
    """The step, the pass of its loop, and what is special about the run; '' where nothing is open."""
    if visible.recording is None:
        return tr("running …") if state.is_running else ""
    its = visible.pass_at(step)
    if visible.last_step is None:
        passes = tr(" · pass {0}").format(its.number) if its and its.number else ""
        return tr("step {0}{1} · say it first").format(step, passes)
    passes = tr(" · pass {0} of {1}").format(its.number, its.in_all) if its and its.number else ""
    return tr("step {0} of {1}").format(step, visible.last_step) + passes + _state(state)


def _state(state: RunState) -> str:
    words = tr(" · waiting") if state.is_waiting else tr(" · running") if state.is_running else ""
    if state.lines_per_second:
        words += tr(" · walking, {0:g} lines a second").format(state.lines_per_second)
    words += f" · {state.whose}" if state.whose else tr(" · older text") if state.is_older else ""
    return words + (tr(" · reading along") if state.reads_along else "")


_NTH = ("", "st", "nd", "rd")


def nth_of(its: HandlerCall) -> str:
    """Which of how many calls of a function it is."""
    return f"{its.function}, {nth(its.number)}" + (f" of {its.times:,}" if its.times > 1 else "")


def nth(number: int) -> str:
    """1st, 2nd, 3rd, 4th."""
    last = number % 10
    return f"{number}{_NTH[last] if 0 < last < 4 and number % 100 not in (11, 12, 13) else 'th'}"
