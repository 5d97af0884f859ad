"""The command `eelgrass compare`."""

from __future__ import annotations

from pathlib import Path

import click

from eelgrass.cli.common import load, print_rows


@click.command()
@click.argument("a", metavar="A.eelrec", type=click.Path(dir_okay=False, path_type=Path))
@click.argument("b", metavar="B.eelrec", type=click.Path(dir_okay=False, path_type=Path))
def compare(a: Path, b: Path) -> None:
    """The first difference of path, of value and of output between two runs, as JSON.

    Exit status 0 when they are the same in all three, 1 when not.
    """
    from eelgrass.export.json_comparison import comparison
    from eelgrass.reading.comparing.runs import compare as compared
    from eelgrass.reading.recording import Recording

    one, other = Recording(load(a)), Recording(load(b))
    found = compared(one, other)
    print_rows([comparison(one, other, found)])
    click.get_current_context().exit(0 if found.is_same else 1)
