"""Starting the windows; what the command line calls by name."""

from __future__ import annotations

import os
import sys
from collections.abc import Callable
from pathlib import Path
from tempfile import TemporaryDirectory

from PyQt6.QtCore import qInstallMessageHandler
from PyQt6.QtWidgets import QApplication

from eelgrass.colours import LIGHT
from eelgrass.desktop.look.palette import qt_palette, ui_font
from eelgrass.desktop.services.crash_reports import CrashReports
from eelgrass.desktop.services.messages import Choice
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.window.main_window import MainWindow
from eelgrass.runs.confinement import hide_from_programs

#: So often in a row Eelgrass may end while it opens something.
_MOST_STARTS = 2


def application() -> QApplication:
    """The one application object, in our colours and fonts."""
    running = QApplication.instance()
    if isinstance(running, QApplication):
        return running
    qInstallMessageHandler(_say)
    app = QApplication(sys.argv[:1])
    app.setApplicationName("eelgrass")
    app.setStyle("Fusion")
    app.setPalette(qt_palette(LIGHT))
    app.setFont(ui_font())
    return app


def _say(_kind: object, _context: object, message: str | None) -> None:
    """Qt's own messages go to standard error, but for one that its offscreen platform says of every window."""
    if message and "propagateSizeHints" not in message:
        print(f"eelgrass: {message}", file=sys.stderr)


def _show(opening: Callable[[MainWindow], None]) -> int:
    if not os.environ.get("DISPLAY") and not os.environ.get("WAYLAND_DISPLAY") and "QT_QPA_PLATFORM" not in os.environ:
        print("eelgrass: There is no display to open a window on; “eelgrass tour OUTDIR” needs none.", file=sys.stderr)
        return 1
    hide_from_programs()
    app = application()
    window, reports = MainWindow(), CrashReports()
    reports.told.connect(lambda sentence: window.models.messages.say(sentence, is_trouble=True))
    reports.install()
    window.show()
    opening(window)
    return app.exec()


def open_demo() -> int:
    """Opens the demo lesson's first program."""
    return _show(_open_demo)


def _open_demo(window: MainWindow) -> None:
    window.models.workspace.open_exercise(window.lesson.exercises[0])


def introduce(window: MainWindow) -> None:
    """Says at the very first start how to move, and never again unless asked."""
    if not window.models.settings.values.introduced:
        window.models.settings.change(introduced=True)
        window.commands.say_first_steps()


def open_path(path: Path) -> int:
    """Opens a program, a folder or a recording."""
    return _show(lambda window: window.models.workspace.open(path))


def open_last() -> int:
    """Opens what was open last; at the very first start, the demo lesson."""

    def opening(window: MainWindow) -> None:
        open_recent(window)
        introduce(window)

    return _show(opening)


def open_recent(window: MainWindow) -> None:
    """Opens what was open last, unless Eelgrass has ended over that twice already."""
    models = window.models
    settings, recent = models.settings, models.settings.recent_files
    if not recent:
        _open_demo(window)
        return
    if settings.values.starts >= _MOST_STARTS:
        settings.change(starts=0)
        sentence = tr("“{0}” was not opened: Eelgrass has ended twice while opening it.").format(recent[0].name)
        again = Choice(tr("Open it all the same"), lambda: models.workspace.open(recent[0]))
        models.messages.say(sentence, is_trouble=True, choices=(again,))
        return
    settings.change(starts=settings.values.starts + 1)
    models.parts.session.opened.connect(lambda: _note_opened(window))
    models.workspace.open(recent[0])


def _note_opened(window: MainWindow) -> None:
    if window.models.parts.session.recording is not None:
        window.models.settings.change(starts=0)


def tour(outdir: Path) -> int:
    """Drives the window through the demo lesson; pictures and recordings go to `outdir`."""
    from eelgrass.desktop.tour import Tour

    if not os.environ.get("DISPLAY") and "QT_QPA_PLATFORM" not in os.environ:
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
    with TemporaryDirectory() as folder:
        for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_DOCUMENTS_DIR"):
            os.environ[name] = folder  # the person's own settings and documents stay as they are
        app = application()  # kept while the windows live
        status = Tour(outdir).run()
        del app
    return status
