"""What all commands share: refusing in one line, loading a recording, and writing many lines."""

from __future__ import annotations

import json
import os
import sys
from collections.abc import Iterable
from pathlib import Path
from typing import Any

import click

from eelgrass.atomic_write import replace_file
from eelgrass.trace.files import recording_file
from eelgrass.trace.model import Trace

recording_argument = click.argument("recording", metavar="REC", type=click.Path(dir_okay=False, path_type=Path))


class Refused(click.ClickException):
    """Ends a command with one line on standard error."""

    def show(self, file: Any = None) -> None:
        click.echo(f"eelgrass: {self.message}", err=True, file=file)


def write(lines: Iterable[str]) -> None:
    """Writes lines on standard output, as long as somebody reads them."""
    try:
        for line in lines:
            sys.stdout.write(line)
        sys.stdout.flush()
    except BrokenPipeError:
        # The reader has had enough; Python must not complain about it at exit either.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())


def load(path: Path) -> Trace:
    """A recording from its file. Raises Refused."""
    try:
        return recording_file.load(path)
    except recording_file.RecordingError as error:
        raise Refused(str(error)) from error
    except OSError as error:
        raise Refused(f"“{path}” cannot be read: {error.strerror}.") from error


def require_confinement() -> None:
    """Where programs of others are run: they are kept from everything, and this process is hidden from them. Raises
    Refused on a machine that cannot."""
    from eelgrass.runs.confinement import hide_from_programs, is_confining, missing_words

    if not is_confining():
        raise Refused(missing_words())
    hide_from_programs()


def put(path: Path, data: bytes) -> None:
    """Writes a file whole. Raises Refused."""
    try:
        replace_file(path, data)
    except OSError as error:
        raise Refused(f"“{path}” cannot be written: {error.strerror}.") from error


def print_rows(rows: Iterable[dict[str, Any]]) -> None:
    """Writes rows as JSON, one a line."""
    write(json.dumps(row) + "\n" for row in rows)


def save(trace: Trace, path: Path) -> None:
    """Writes a recording's file. Raises Refused."""
    try:
        recording_file.save(trace, path)
    except OSError as error:
        raise Refused(f"The recording could not be written to “{path}”: {error.strerror}.") from error
