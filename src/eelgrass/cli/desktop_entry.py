"""The entry in the desktop's menus, and what else a desktop wants to know, where the freedesktop standards want it."""

from __future__ import annotations

import shlex
import shutil
import subprocess
import sys
from collections.abc import Iterator
from importlib import resources
from pathlib import Path

import click

from eelgrass import __version__
from eelgrass.cli.common import Refused

#: Each of our files, below the folder for data.
_PLACES = {
    "eelgrass.desktop": "applications",
    "eelgrass.xml": "mime/packages",
    "eelgrass.svg": "icons/hicolor/scalable/apps",
    "eelgrass-recording.svg": "icons/hicolor/scalable/mimetypes",
    "eelgrass-exercise.svg": "icons/hicolor/scalable/mimetypes",
    "eelgrass.1": "man/man1",
}
#: What keeps the desktop's own indexes, where it is there: a command, and the folder that it is given.
_INDEXES = (
    (["update-mime-database"], "mime"),
    (["update-desktop-database", "-q"], "applications"),
    (["gtk-update-icon-cache", "-q", "-t"], "icons/hicolor"),
)


@click.command("desktop-entry")
@click.option(
    "--install", "what", flag_value="install", help="Put the entry, icons, kinds of files and man page there."
)
@click.option("--remove", "what", flag_value="remove", help="Take them away again.")
@click.option(
    "--data",
    type=click.Path(file_okay=False, path_type=Path),
    help="The folder for data [default: $XDG_DATA_HOME, else ~/.local/share].",
)
def desktop_entry(what: str | None, data: Path | None) -> None:
    """Let the desktop know Eelgrass: an entry in its menus, recordings and exercises that open by a double click."""
    from platformdirs import user_data_path

    if what is None:
        raise click.UsageError("Say --install or --remove.")
    folder = data or user_data_path()
    try:
        for place, text in _files(folder):
            if what == "remove":
                place.unlink(missing_ok=True)
            else:
                place.parent.mkdir(parents=True, exist_ok=True)
                place.write_text(text, "utf-8")
    except OSError as error:
        raise Refused(f"“{error.filename}” cannot be written: {error.strerror}.") from error
    for command, inner in _INDEXES:
        if shutil.which(command[0]) and (folder / inner).is_dir():
            subprocess.run([*command, str(folder / inner)], check=False, capture_output=True)
    click.echo(f"Eelgrass is {'known to' if what == 'install' else 'no longer known to'} the desktop ({folder}).")


def _files(folder: Path) -> Iterator[tuple[Path, str]]:
    """(where it belongs, what is in it) for each."""
    ours = resources.files("eelgrass") / "desktop_files"
    for name, inner in _PLACES.items():
        text = (ours / name).read_text("utf-8")
        yield folder / inner / name, text.replace("@PROGRAM@", _program()).replace("@VERSION@", __version__)


def _program() -> str:
    """How the desktop starts Eelgrass: by its file, since the folder may not be on the desktop's path."""
    file = shutil.which(sys.argv[0]) or sys.argv[0]
    return shlex.quote(str(Path(file).absolute()))
