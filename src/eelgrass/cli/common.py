"""What all commands share: refusing in one line, and writing many."""

from __future__ import annotations

import os
import sys
from collections.abc import Iterable
from typing import Any

import click


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
