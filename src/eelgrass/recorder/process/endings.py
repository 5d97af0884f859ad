"""How a run ends: its status, what is said of an exception, and its traceback without frames of ours."""

from __future__ import annotations

from types import TracebackType

from eelgrass.recorder.contract import OUR_FILES


def exit_status(error: SystemExit) -> int:
    """The status with which the interpreter ends after SystemExit."""
    if error.code is None:
        return 0
    return error.code & 0xFF if isinstance(error.code, int) else 1


def described(error: BaseException) -> str:
    """The error's type and, where no code of the program has to run for it, its text."""
    name = type(error).__name__
    if type(error).__module__ != "builtins" or not all(type(part) in (str, int, float) for part in error.args):
        return name
    text = str(error) if not isinstance(error, SyntaxError) else error.msg
    return f"{name}: {text}" if text else name


def last_line(error: BaseException) -> int:
    """Line of the innermost frame of the program's own on the error's way."""
    if isinstance(error, SyntaxError):
        return error.lineno or 0
    line = 0
    trace = error.__traceback__
    while trace is not None:
        if not trace.tb_frame.f_code.co_filename.startswith(OUR_FILES):
            line = trace.tb_lineno
        trace = trace.tb_next
    return line


def hide_our_frames(error: BaseException) -> None:
    """Takes our own frames out of the traceback of `error` and of those that it is chained to."""
    seen: set[int] = set()
    todo: list[BaseException | None] = [error]
    while todo:
        current = todo.pop()
        if current is None or id(current) in seen:
            continue
        seen.add(id(current))
        current.__traceback__ = _without_ours(current.__traceback__)
        todo += [current.__cause__, current.__context__]


def _without_ours(trace: TracebackType | None) -> TracebackType | None:
    kept = []
    while trace is not None:
        if not trace.tb_frame.f_code.co_filename.startswith(OUR_FILES):
            kept.append(trace)
        trace = trace.tb_next
    following = None
    for one in reversed(kept):
        if one.tb_next is not following:  # setting it walks through all that follows
            one.tb_next = following
        following = one
    return following
